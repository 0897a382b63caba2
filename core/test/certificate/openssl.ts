/** Certificates made and mail sealed by OpenSSL, the judge of ours. */
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Bytes } from '../../src/bytes';
import { type Certificate, readCertificate } from '../../src/certificate/certificate';

export interface Holder {
  name: string;
  certificate: Certificate;
  privateKey: Bytes;
  certificateFile: string;
  keyFile: string;
}

const KEYS = {
  rsa: ['rsa', '-pkeyopt', 'rsa_keygen_bits:2048'],
  'rsa-pss': ['rsa-pss', '-pkeyopt', 'rsa_keygen_bits:2048'],
  p256: ['ec', '-pkeyopt', 'ec_paramgen_curve:P-256'],
  p384: ['ec', '-pkeyopt', 'ec_paramgen_curve:P-384'],
  p521: ['ec', '-pkeyopt', 'ec_paramgen_curve:P-521'],
  ed25519: ['ed25519'],
  'rsa-8192': ['rsa'],
} as const;
/** From where the tests run, which is the house: tests in the browser are modules, and the others are not. */
const LARGEST = 'core/test/cms/rsa-8192.pem';
export type KeyKind = keyof typeof KEYS;

export class Openssl {
  readonly folder = mkdtempSync(join(tmpdir(), 'under-lock-openssl-'));
  private serial = 1000;

  file(name: string): string {
    return join(this.folder, name);
  }

  write(name: string, bytes: Uint8Array | string): string {
    writeFileSync(this.file(name), bytes);
    return this.file(name);
  }

  read(name: string): Bytes {
    return new Uint8Array(readFileSync(this.file(name)));
  }

  /** Its standard output. Throws with what it said when it fails. */
  run(args: readonly string[], input?: Uint8Array): Buffer {
    return execFileSync('openssl', args, {
      cwd: this.folder,
      input: input ?? new Uint8Array(0),
      stdio: ['pipe', 'pipe', 'pipe'],
      maxBuffer: 256 * 1024 * 1024,
    });
  }

  fails(args: readonly string[], input?: Uint8Array): boolean {
    try {
      this.run(args, input);
      return false;
    } catch {
      return true;
    }
  }

  /** An authority when `by` is undefined, else a mail certificate issued by it. */
  holder(
    name: string,
    kind: KeyKind = 'rsa',
    by?: Holder,
    extensions = `keyUsage=critical,digitalSignature,keyEncipherment,keyAgreement\nextendedKeyUsage=emailProtection\nsubjectAltName=email:${name}@larkmoor.example\nsubjectKeyIdentifier=hash\nauthorityKeyIdentifier=keyid`,
  ): Holder {
    const [keyFile, certificateFile] = [this.file(`${name}.key`), this.file(`${name}.pem`)];
    const [algorithm, ...options] = KEYS[kind];
    // Making one of this size takes minutes.
    if (kind === 'rsa-8192') copyFileSync(LARGEST, keyFile);
    else this.run(['genpkey', '-algorithm', algorithm, ...options, '-out', keyFile]);
    if (by === undefined) {
      this.run([
        'req',
        '-x509',
        '-new',
        '-key',
        keyFile,
        '-sha256',
        '-days',
        '3650',
        '-subj',
        `/O=Larkmoor Ferries/CN=${name}`,
        '-out',
        certificateFile,
        '-addext',
        'keyUsage=critical,keyCertSign,cRLSign',
      ]);
    } else {
      this.run(['req', '-new', '-key', keyFile, '-subj', `/O=Larkmoor Ferries/CN=${name}`, '-out', `${name}.csr`]);
      this.write(`${name}.ext`, extensions);
      this.run([
        'x509',
        '-req',
        '-in',
        `${name}.csr`,
        '-CA',
        by.certificateFile,
        '-CAkey',
        by.keyFile,
        '-set_serial',
        String(++this.serial),
        '-days',
        '365',
        '-sha256',
        '-extfile',
        `${name}.ext`,
        '-out',
        certificateFile,
      ]);
    }
    return {
      name,
      keyFile,
      certificateFile,
      certificate: readCertificate(new Uint8Array(this.run(['x509', '-in', certificateFile, '-outform', 'DER']))),
      privateKey: new Uint8Array(this.run(['pkcs8', '-topk8', '-nocrypt', '-in', keyFile, '-outform', 'DER'])),
    };
  }
}
