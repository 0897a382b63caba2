/** A directory for tests: Debian's slapd on loopback, under TLS, filled from LDIF (RFC 2849). */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from './free-port';

export interface LdapDirectory {
  /** With StartTLS, and under TLS from the beginning. */
  url: string;
  secureUrl: string;
  /** The same by a name that its certificate is not for. */
  byOtherName: { url: string; secureUrl: string };
  base: string;
  user: string;
  password: string;
  /** PEM files: its certificate, which is its own authority, and the key to it. */
  ca: string;
  key: string;
  stop(): Promise<void>;
}

const BASE = 'dc=larkmoor,dc=example';
const USER = `cn=under-lock,${BASE}`;
const PASSWORD = 'seven bells and a half';

const answers = (port: number): Promise<boolean> =>
  new Promise((done) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => done(true)).once('error', () => done(false));
    socket.once('close', () => socket.destroy());
    setTimeout(() => socket.destroy(), 200);
  });

const base64 = (value: string | Uint8Array): string => Buffer.from(value).toString('base64');

export interface LdapEntry {
  /** Within people. */ uid: string;
  /** By attribute; octets for what is binary. */
  values: Record<string, string | Uint8Array | readonly string[]>;
}

const ldifOf = ({ uid, values }: LdapEntry): string =>
  [
    `dn: uid=${uid},ou=people,${BASE}`,
    'objectClass: inetOrgPerson',
    `uid: ${uid}`,
    ...Object.entries({ cn: uid, sn: uid, ...values }).flatMap(([name, value]) =>
      (Array.isArray(value) ? (value as string[]) : [value as string | Uint8Array]).map(
        (one) => `${name}:: ${base64(one)}`,
      ),
    ),
    '',
  ].join('\n');

/**
 * @param elsewhere Directories it refers to. @param mostEntries What it gives to one search, paged or not; all where it
 * is not said.
 */
export async function startLdap(
  entries: readonly LdapEntry[],
  { elsewhere = [], mostEntries }: { elsewhere?: readonly string[]; mostEntries?: number } = {},
): Promise<LdapDirectory> {
  const place = mkdtempSync(join(tmpdir(), 'ldap-'));
  const at = (name: string): string => join(place, name);
  mkdirSync(at('data'));
  execFileSync(
    'openssl',
    [
      ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-days', '2'],
      ...['-subj', '/CN=directory.larkmoor.example', '-addext', 'subjectAltName=IP:127.0.0.1,DNS:localhost'],
      ...['-keyout', at('key.pem'), '-out', at('ca.pem')],
    ],
    { stdio: 'ignore' },
  );
  writeFileSync(
    at('slapd.conf'),
    `${['core', 'cosine', 'inetorgperson'].map((one) => `include /etc/ldap/schema/${one}.schema`).join('\n')}
modulepath /usr/lib/ldap
moduleload back_mdb
TLSCertificateFile ${at('ca.pem')}
TLSCertificateKeyFile ${at('key.pem')}
sizelimit ${mostEntries ?? 'unlimited'}
${mostEntries === undefined ? '' : `sizelimit size.prtotal=${mostEntries}`}
database mdb
maxsize 268435456
suffix "${BASE}"
rootdn "cn=root,${BASE}"
directory ${at('data')}
security tls=128
access to attrs=userPassword by anonymous auth
access to * by users read by * none
`,
  );
  const head = [
    `dn: ${BASE}\nobjectClass: dcObject\nobjectClass: organization\no: Larkmoor Ferries\ndc: larkmoor\n`,
    `dn: ${USER}\nobjectClass: applicationProcess\nobjectClass: simpleSecurityObject\ncn: under-lock\nuserPassword: ${PASSWORD}\n`,
    `dn: ou=people,${BASE}\nobjectClass: organizationalUnit\nou: people\n`,
    ...elsewhere.map(
      (url, index) =>
        `dn: ou=elsewhere${index},${BASE}\nobjectClass: referral\nobjectClass: extensibleObject\nou: elsewhere${index}\nref: ${url}\n`,
    ),
  ];
  writeFileSync(at('data.ldif'), [...head, ...entries.map(ldifOf)].join('\n'));
  try {
    execFileSync('/usr/sbin/slapadd', ['-q', '-f', at('slapd.conf'), '-l', at('data.ldif')], { stdio: 'pipe' });
  } catch (error) {
    throw new Error(`slapadd: ${String((error as { stderr?: Buffer }).stderr)}`);
  }
  const [port, securePort] = [await freePort(), await freePort()];
  const child: ChildProcess = spawn(
    '/usr/sbin/slapd',
    [
      '-h',
      [1, 2].map((host) => `ldap://127.0.0.${host}:${port} ldaps://127.0.0.${host}:${securePort}`).join(' '),
      '-f',
      at('slapd.conf'),
      '-d',
      '0',
    ],
    { stdio: 'ignore' },
  );
  const ended = new Promise<void>((done) => child.once('exit', () => done()));
  while (!(await answers(securePort))) {
    if (child.exitCode !== null) throw new Error(`slapd ended: ${readFileSync(at('slapd.conf'), 'utf8')}`);
    await new Promise((again) => setTimeout(again, 50));
  }
  return {
    url: `ldap://127.0.0.1:${port}`,
    secureUrl: `ldaps://127.0.0.1:${securePort}`,
    byOtherName: { url: `ldap://127.0.0.2:${port}`, secureUrl: `ldaps://127.0.0.2:${securePort}` },
    base: BASE,
    user: USER,
    password: PASSWORD,
    ca: at('ca.pem'),
    key: at('key.pem'),
    async stop() {
      child.kill('SIGTERM');
      await ended;
      rmSync(place, { recursive: true, force: true });
    },
  };
}
