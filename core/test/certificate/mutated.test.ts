/** A hundred thousand damaged inputs: certificates, revocation lists, OCSP answers, CMS, PKCS#12, requests, mail. Only typed errors, no hang, no memory run-away. */
import { Asn1Error } from '../../src/asn1/read';
import { type Bytes, utf8 } from '../../src/bytes';
import { readCertificate } from '../../src/certificate/certificate';
import { CertificateError } from '../../src/certificate/errors';
import { certificatesIn } from '../../src/certificate/in-file';
import { makeKeyPair, makeRequest } from '../../src/certificate/make-key';
import { readOcspAnswer } from '../../src/certificate/ocsp';
import { Pkcs12Error } from '../../src/certificate/pkcs12/errors';
import { readPkcs12 } from '../../src/certificate/pkcs12/read';
import { requestedAddresses } from '../../src/certificate/request';
import { readRevocationList } from '../../src/certificate/revocation-list';
import { openEnvelope, readEnvelope, sealEnvelope } from '../../src/cms/enveloped-data';
import { CmsError } from '../../src/cms/errors';
import { signData } from '../../src/cms/sign';
import { checkSigners, readSignedData } from '../../src/cms/signed-data';
import { unwrapMail, UnwrapError } from '../../src/locks/unwrap';
import { MessageReadError } from '../../src/message/read';
import { Openssl } from './openssl';
import { pkitsFile } from './pkits';

const TYPED = [Asn1Error, CertificateError, CmsError, Pkcs12Error, UnwrapError, MessageReadError];

/** A small generator with a fixed seed (mulberry32), so that a failure comes back. */
function generator(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** Octets changed, cut off, put in twice or taken out, lengths made enormous. */
function mutated(bytes: Uint8Array, random: () => number): Bytes {
  const at = (length: number): number => Math.floor(random() * length);
  const out = bytes.slice() as Bytes;
  switch (at(5)) {
    case 0:
      return out.slice(0, at(out.length));
    case 1: {
      const from = at(out.length);
      return new Uint8Array([...out.slice(0, from), ...out.slice(from, from + at(40)), ...out.slice(from)]);
    }
    case 2: {
      const from = at(out.length);
      return new Uint8Array([...out.slice(0, from), ...out.slice(from + 1 + at(20))]);
    }
    case 3:
      out.set([0x84, 0xff, 0xff, 0xff, 0xff].slice(0, Math.max(1, out.length - 1)), Math.min(at(out.length), Math.max(0, out.length - 5)));
      return out;
    default:
      for (let count = 1 + at(4); count > 0; count--) out[at(out.length)] = at(256);
      return out;
  }
}

const openssl = new Openssl();
const root = openssl.holder('root');
const holder = openssl.holder('p256', 'p256', root);
const held = [{ certificate: holder.certificate, privateKey: holder.privateKey }];
const signing = { content: utf8('Content-Type: text/plain\r\n\r\nThe papers.\r\n'), signers: [{ ...held[0]!, chain: [root.certificate] }], signingTime: new Date(), detached: false };

const kinds: [string, number, () => Promise<Uint8Array> | Uint8Array, (bytes: Bytes) => unknown][] = [
  ['certificates', 25_000, () => holder.certificate.bytes, readCertificate],
  ['odd certificates', 10_000, () => pkitsFile('certs', 'nameConstraintsDN3subCA2Cert.crt'), readCertificate],
  ['revocation lists', 20_000, () => pkitsFile('crls', 'indirectCRLCA3cRLIssuerCRL.crl'), (bytes) => readRevocationList(bytes).find(5n, holder.certificate.issuer)],
  ['OCSP answers', 5_000, () => openssl.run(['ocsp', '-index', openssl.write('index.txt', ''), '-rsigner', root.certificateFile, '-rkey', root.keyFile, '-CA', root.certificateFile, '-issuer', root.certificateFile, '-cert', holder.certificateFile, '-respout', openssl.file('answer.der')]) && openssl.read('answer.der'), readOcspAnswer],
  ['requests', 10_000, async () => makeRequest(await makeKeyPair('p-256'), { name: 'x', addresses: ['x@larkmoor.example'] }), requestedAddresses],
  ['files', 5_000, () => openssl.run(['crl2pkcs7', '-nocrl', '-certfile', holder.certificateFile]), certificatesIn],
  ['signed data', 12_000, () => signData(signing), async (bytes) => checkSigners(readSignedData(bytes))],
  ['envelopes', 6_000, () => sealEnvelope(utf8('x'.repeat(200)), [{ certificate: holder.certificate, transport: 'pkcs1' }], 'AES-256-GCM'), async (bytes) => openEnvelope(readEnvelope(bytes), held)],
  ['PKCS#12 files', 5_000, () => openssl.run(['pkcs12', '-export', '-inkey', holder.keyFile, '-in', holder.certificateFile, '-passout', 'pass:x', '-iter', '1', '-nomac']), (bytes) => readPkcs12(bytes, 'x')],
  ['mails', 2_000, () => openssl.run(['cms', '-sign', '-in', openssl.write('plain', 'Content-Type: text/plain\r\n\r\nThe papers.\r\n'), '-signer', holder.certificateFile, '-inkey', holder.keyFile, '-from', 'a@larkmoor.example', '-subject', 'x']), (bytes) => unwrapMail(bytes, held)],
];

test('they are a hundred thousand', () => expect(kinds.reduce((sum, [, count]) => sum + count, 0)).toBe(100_000));

test.each(kinds)('%s: %d of them', async (_, count, make, read) => {
  const sound = new Uint8Array(await make());
  await read(sound.slice());
  const random = generator(20_261_125);
  let longest = 0;
  for (let index = 0; index < count; index++) {
    const bytes = mutated(sound, random);
    const from = performance.now();
    try {
      await read(bytes);
    } catch (error) {
      if (!TYPED.some((kind) => error instanceof kind)) throw Object.assign(new Error(`Untyped at ${index}: ${String(error)}`), { cause: error });
    }
    longest = Math.max(longest, performance.now() - from);
  }
  // No time is asserted on a shared machine; a hang would end the test by its own limit.
  expect(longest).toBeGreaterThan(0);
}, 120_000);
