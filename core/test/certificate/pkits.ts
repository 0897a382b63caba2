/**
 * NIST's Public Key Interoperability Test Suite as Debian ships it: 405 certificates, 173 lists, and what each test
 * means.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Certificate, readCertificate } from '../../src/certificate/certificate';
import { Evidence } from '../../src/certificate/evidence';
import { readRevocationList, type RevocationList } from '../../src/certificate/revocation-list';

export const PKITS = '/usr/lib/python3/dist-packages/cryptography_vectors/x509/PKITS_data';

export const pkitsFile = (folder: string, name: string): Uint8Array =>
  new Uint8Array(readFileSync(join(PKITS, folder, name)));
export const pkitsNames = (folder: string): string[] => readdirSync(join(PKITS, folder));
export const pkitsCertificate = (name: string): Certificate => readCertificate(pkitsFile('certs', `${name}.crt`));

export function pkitsEvidence(): Evidence {
  const certificates = pkitsNames('certs').map((name) => readCertificate(pkitsFile('certs', name)));
  const lists = pkitsNames('crls').map((name): RevocationList => readRevocationList(pkitsFile('crls', name)));
  return new Evidence({ anchors: [pkitsCertificate('TrustAnchorRootCertificate')], certificates, lists });
}
