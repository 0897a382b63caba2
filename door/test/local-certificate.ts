import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** For `localhost`, as mail programs check it: two PEM files. */
export function localCertificate(): { cert: string; key: string } {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-door-'));
  const [cert, key] = [join(folder, 'cert.pem'), join(folder, 'key.pem')];
  const kind = ['-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-days', '30'];
  const name = ['-subj', '/CN=localhost', '-addext', 'subjectAltName=DNS:localhost'];
  execFileSync('openssl', ['req', '-x509', ...kind, ...name, '-keyout', key, '-out', cert], { stdio: 'ignore' });
  return { cert, key };
}
