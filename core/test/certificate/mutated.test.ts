/**
 * A hundred thousand damaged inputs: certificates, revocation lists, OCSP answers, CMS, PKCS#12, requests, mail. Only
 * typed errors, no hang, no memory run-away.
 */
import { Asn1Error } from '../../src/asn1/read';
import { type Bytes, utf8 } from '../../src/bytes';
import { readCertificate } from '../../src/certificate/certificate';
import { CertificateError } from '../../src/certificate/errors';
import { certificatesIn } from '../../src/key-files/in-file';
import { makeKeyPair, makeRequest } from '../../src/certificate/make-key';
import { readOcspAnswer } from '../../src/certificate/ocsp';
import { Pkcs12Error } from '../../src/key-files/pkcs12/errors';
import { readPkcs12 } from '../../src/key-files/pkcs12/read';
import { requestedAddresses } from '../../src/certificate/request';
import { readRevocationList } from '../../src/certificate/revocation-list';
import { openEnvelope, readEnvelope, sealEnvelope } from '../../src/cms/enveloped-data';
import { CmsError } from '../../src/cms/errors';
import { signData } from '../../src/cms/sign';
import { checkSigners, readSignedData } from '../../src/cms/signed-data';
import { unwrapMail, UnwrapError } from '../../src/locks/unwrap';
import { MessageReadError } from '../../src/message/read';
import { readDamaged } from '../mutations';
import { Openssl } from './openssl';
import { pkitsFile } from './pkits';

const TYPED = [Asn1Error, CertificateError, CmsError, Pkcs12Error, UnwrapError, MessageReadError];

const openssl = new Openssl();
const root = openssl.holder('root');
const holder = openssl.holder('p256', 'p256', root);
const held = [{ certificate: holder.certificate, privateKey: holder.privateKey }];
const signing = {
  content: utf8('Content-Type: text/plain\r\n\r\nThe papers.\r\n'),
  signers: [{ ...held[0]!, chain: [root.certificate] }],
  signingTime: new Date(),
  detached: false,
};

const kinds: [string, number, () => Promise<Uint8Array> | Uint8Array, (bytes: Bytes) => unknown][] = [
  ['certificates', 25_000, () => holder.certificate.bytes, readCertificate],
  ['odd certificates', 10_000, () => pkitsFile('certs', 'nameConstraintsDN3subCA2Cert.crt'), readCertificate],
  [
    'revocation lists',
    20_000,
    () => pkitsFile('crls', 'indirectCRLCA3cRLIssuerCRL.crl'),
    (bytes) => readRevocationList(bytes).find(5n, holder.certificate.issuer),
  ],
  [
    'OCSP answers',
    5_000,
    () =>
      openssl.run([
        'ocsp',
        '-index',
        openssl.write('index.txt', ''),
        '-rsigner',
        root.certificateFile,
        '-rkey',
        root.keyFile,
        '-CA',
        root.certificateFile,
        '-issuer',
        root.certificateFile,
        '-cert',
        holder.certificateFile,
        '-respout',
        openssl.file('answer.der'),
      ]) && openssl.read('answer.der'),
    readOcspAnswer,
  ],
  [
    'requests',
    10_000,
    async () => makeRequest(await makeKeyPair('p-256'), { name: 'x', addresses: ['x@larkmoor.example'] }),
    requestedAddresses,
  ],
  ['files', 5_000, () => openssl.run(['crl2pkcs7', '-nocrl', '-certfile', holder.certificateFile]), certificatesIn],
  ['signed data', 12_000, () => signData(signing), async (bytes) => checkSigners(readSignedData(bytes))],
  [
    'envelopes',
    6_000,
    () => sealEnvelope(utf8('x'.repeat(200)), [{ certificate: holder.certificate, transport: 'pkcs1' }], 'AES-256-GCM'),
    async (bytes) => openEnvelope(readEnvelope(bytes), held),
  ],
  [
    'PKCS#12 files',
    5_000,
    () =>
      openssl.run([
        'pkcs12',
        '-export',
        '-inkey',
        holder.keyFile,
        '-in',
        holder.certificateFile,
        '-passout',
        'pass:x',
        '-iter',
        '1',
        '-nomac',
      ]),
    (bytes) => readPkcs12(bytes, 'x'),
  ],
  [
    'mails',
    2_000,
    () =>
      openssl.run([
        'cms',
        '-sign',
        '-in',
        openssl.write('plain', 'Content-Type: text/plain\r\n\r\nThe papers.\r\n'),
        '-signer',
        holder.certificateFile,
        '-inkey',
        holder.keyFile,
        '-from',
        'a@larkmoor.example',
        '-subject',
        'x',
      ]),
    (bytes) => unwrapMail(bytes, held),
  ],
];

test('they are a hundred thousand', () => expect(kinds.reduce((sum, [, count]) => sum + count, 0)).toBe(100_000));

test.each(kinds)(
  '%s: %d of them',
  async (_, count, make, read) => {
    const sound = new Uint8Array(await make());
    await read(sound.slice());
    // No time is asserted on a shared machine; a hang would end the test by its own limit.
    await readDamaged(sound, count, read, TYPED);
  },
  120_000,
);
