/** What the door for mail programs runs with beside this server: a secret of its own, and a certificate for this machine. */
import { hkdfSync, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { capture } from './run.mjs';

const DAYS = '3650';

/** Self-signed: whoever tries the demo's door tells their mail program to take it. */
function certificateIn(folder) {
  const [cert, key] = [`${folder}/door-certificate.pem`, `${folder}/door-key.pem`];
  if (existsSync(cert) && existsSync(key)) return { cert, key };
  const kind = ['-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-days', DAYS];
  const name = ['-subj', '/CN=localhost', '-addext', 'subjectAltName=DNS:localhost,IP:127.0.0.1'];
  const made = capture('openssl', ['req', '-x509', ...kind, ...name, '-keyout', key, '-out', cert]);
  return made === undefined ? undefined : { cert, key };
}

/** As core/src/submission/keys.ts derives it. */
const tokenOf = (secret) =>
  Buffer.from(hkdfSync('sha256', secret, '', 'under-lock/submission/token/v1', 32)).toString('base64url');

/**
 * The server's environment and the door's own; undefined where no certificate can be made here and none is set. The
 * server is never given the door's secret.
 */
export function submissionIn(folder, server, env) {
  const { UNDERLOCK_SUBMISSION_CERTIFICATE: cert, UNDERLOCK_SUBMISSION_KEY: key } = env;
  mkdirSync(folder, { recursive: true });
  const made = cert !== undefined && key !== undefined ? { cert, key } : certificateIn(folder);
  if (made === undefined) return undefined;
  const file = `${folder}/secret`;
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 });
  const secret = env.UNDERLOCK_SUBMISSION_SECRET ?? readFileSync(file, 'utf8').trim();
  const own = Object.fromEntries(Object.entries(env).filter(([name]) => name.startsWith('UNDERLOCK_SUBMISSION_')));
  return {
    server: { UNDERLOCK_SUBMISSION_TOKEN: tokenOf(Buffer.from(secret, 'base64url')) },
    door: {
      PATH: env.PATH,
      NODE_ENV: env.NODE_ENV,
      UNDERLOCK_SUBMISSION_SERVER: server,
      UNDERLOCK_SUBMISSION_SECRET: secret,
      UNDERLOCK_SUBMISSION_CERTIFICATE: made.cert,
      UNDERLOCK_SUBMISSION_KEY: made.key,
      ...own,
    },
    files: [made.cert, made.key],
  };
}
