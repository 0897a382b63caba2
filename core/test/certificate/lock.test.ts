/**
 * The certificate lock in the plan: when a copy can be had, what it can't keep, and that the room stands in wherever it
 * can't. Certificates in the files people pass on.
 */
import { toBase64, utf8 } from '../../src/bytes';
import { certificatesIn } from '../../src/key-files/in-file';
import { ALL_RIGHTS, LOOSEST_TERMS, NO_RIGHTS } from '../../src/handling/handling';
import { assessCertificate } from '../../src/locks/certificate/assess';
import { lockKinds } from '../../src/locks/list';
import { type AssessmentContext, type PlannedHandling, type Recipient } from '../../src/locks/lock';
import { planDelivery } from '../../src/outgoing/delivery-plan';
import { Openssl } from './openssl';
import { pkitsCertificate } from './pkits';

const handling = (over: Partial<PlannedHandling> = {}): PlannedHandling => ({
  ...LOOSEST_TERMS,
  clear: false,
  check: 'text',
  leastCheck: 'question',
  ...over,
});
const clinic: Recipient = {
  name: 'Harbour Clinic',
  address: 'records@harbourclinic.example',
  role: 'to',
  phone: '+447700900355',
  certificate: { level: 'valid' },
};
const codes = (items: readonly { code: string }[]): string[] => items.map(({ code }) => code);
const context = (signs: boolean): AssessmentContext => ({
  message: 'x',
  fileCount: 1,
  size: 1_000,
  sender: { address: 'maren.oduya@larkmoor.example', signs, signsOpenPgp: false, phones: [], addresses: [] },
  others: [],
});
const lineOf = (recipient: Recipient, over: Partial<PlannedHandling> = {}) =>
  planDelivery(
    {
      recipients: [recipient],
      handling: { ...handling(over), closing: { ok: true, closesAt: new Date('2026-12-09T17:00:00Z') } },
      subject: 'x',
      text: 'x',
      fileSizes: [],
      limits: { maxBytes: 1, maxRecipients: 5 },
      context: context(true),
    },
    lockKinds,
  ).lines[0]!;

test.each<[string, Recipient, Partial<PlannedHandling>, string[]]>([
  ['a valid certificate', clinic, {}, []],
  ['one that could not be checked', { ...clinic, certificate: { level: 'unchecked' } }, {}, []],
  ['none', { name: '', address: 'x@postbox.example', role: 'to' }, {}, ['certificate-missing']],
  ['one not to be used', { ...clinic, certificate: { level: 'stop' } }, {}, ['certificate-unusable']],
  ['a handling without copies', clinic, { copies: false }, ['copies-not-allowed']],
  ['a handling for staff only', clinic, { audience: 'staff' }, ['staff-only']],
])('with %s', (_, recipient, over, missing) => {
  const assessed = assessCertificate(recipient, handling(over), context(true));
  expect(codes(assessed.missing)).toEqual(missing);
  expect(assessed.available).toBe(missing.length === 0);
});

test('what a copy can’t keep is said where the handling asks it; the worker is warned of what is unsure', () => {
  expect(
    assessCertificate(clinic, handling({ copies: false, rights: { ...NO_RIGHTS, reply: true } }), context(true))
      .cannotHonour,
  ).toEqual(['closing', 'check', 'replyAll', 'forward', 'print', 'copy', 'save']);
  expect(assessCertificate(clinic, handling({ copies: true, rights: ALL_RIGHTS }), context(true)).cannotHonour).toEqual(
    [],
  );
  expect(
    codes(assessCertificate({ ...clinic, certificate: { level: 'unchecked' } }, handling(), context(true)).warnings),
  ).toEqual(['certificate-unchecked']);
  expect(
    codes(
      assessCertificate({ ...clinic, certificate: { level: 'valid', runsOut: new Date() } }, handling(), context(true))
        .warnings,
    ),
  ).toEqual(['certificate-runs-out']);
});

test('a copy that nobody of ours can sign is said to go unsigned; what nothing is encrypted for is not', () => {
  expect(codes(assessCertificate(clinic, handling(), context(false)).warnings)).toEqual(['goes-unsigned']);
  expect(
    codes(assessCertificate({ ...clinic, certificate: { level: 'stop' } }, handling(), context(false)).warnings),
  ).toEqual([]);
  expect(
    codes(
      assessCertificate({ name: '', address: 'x@postbox.example', role: 'to' }, handling(), context(false)).warnings,
    ),
  ).toEqual([]);
});

test('the plan gives a copy where it may, the room where it may not or the worker says so, and never nothing', () => {
  expect(lineOf(clinic).chosen.lock).toBe('certificate');
  expect(lineOf(clinic).alternatives).toMatchObject([
    { lock: 'room', available: true },
    { lock: 'carried', available: true, onRequest: true },
    { lock: 'file', available: true, onRequest: true },
    { lock: 'openpgp', available: false },
    { lock: 'open', available: false, missing: [{ code: 'nothing-leaves-open' }] },
  ]);
  expect(lineOf({ ...clinic, lock: 'room' }).chosen.lock).toBe('room');
  expect(lineOf(clinic, { copies: false }).chosen.lock).toBe('room');
  expect(lineOf({ ...clinic, lock: 'certificate' }, { copies: false }).chosen.lock).toBe('room');
  expect(lineOf({ ...clinic, certificate: { level: 'stop' } }).chosen.lock).toBe('room');
  expect(lineOf({ ...clinic, colleague: { ready: true } }).chosen.lock).toBe('room');
  expect(lineOf({ name: '', address: 'x@postbox.example', role: 'to' }).chosen).toMatchObject({
    lock: 'room',
    missing: [{ code: 'phone-missing' }],
  });
});

describe('certificates in a file', () => {
  const openssl = new Openssl();
  const root = openssl.holder('root');
  const one = openssl.holder('one', 'p256', root);
  const pem = openssl.read('one.pem');
  const serials = (bytes: Uint8Array): bigint[] => certificatesIn(bytes).map(({ serial }) => serial);
  const card = (body: string): Uint8Array =>
    utf8(`BEGIN:VCARD\r\nVERSION:4.0\r\nFN:One\r\nEMAIL:one@larkmoor.example\r\n${body}\r\nEND:VCARD\r\n`);
  /** The same certificate under another number: read, not judged. */
  function withSerial(bytes: Uint8Array, index: number): Uint8Array {
    const changed = bytes.slice();
    const at = changed.findIndex((octet, place) => octet === 2 && changed[place + 1] === 2 && changed[place + 2] === 3);
    changed[at + 3] = index;
    return changed;
  }
  const folded = toBase64(one.certificate.bytes).replace(/(.{70})(?=.)/g, '$1\r\n ');
  test.each<[string, Uint8Array]>([
    ['DER', one.certificate.bytes],
    ['PEM', pem],
    ['PEM with words around it', Buffer.concat([utf8('Here it is:\r\n'), pem, utf8('\r\nBye')])],
    ['base64 alone', utf8(toBase64(one.certificate.bytes))],
    ['a PKCS#7 bundle', openssl.run(['crl2pkcs7', '-nocrl', '-certfile', one.certificateFile, '-outform', 'DER'])],
    ['a PKCS#7 bundle as PEM', openssl.run(['crl2pkcs7', '-nocrl', '-certfile', one.certificateFile])],
    ['a contact card, new', card(`KEY:data:application/pkix-cert;base64,${folded}`)],
    ['a contact card, old', card(`KEY;TYPE=X509;ENCODING=b:${folded}`)],
  ])('%s', (_, bytes) => expect(serials(new Uint8Array(bytes))).toEqual([one.certificate.serial]));
  test('two in one file are both found, once each', () =>
    expect(serials(Buffer.concat([pem, openssl.read('root.pem'), pem]))).toEqual([
      one.certificate.serial,
      root.certificate.serial,
    ]));
  test('a certificate with another program’s notes behind it, and a bundle of hundreds', () => {
    openssl.run([
      'x509',
      '-in',
      one.certificateFile,
      '-addtrust',
      'emailProtection',
      '-trustout',
      '-out',
      'trusted.pem',
    ]);
    expect(serials(openssl.read('trusted.pem'))).toEqual([one.certificate.serial]);
    const many = Array.from({ length: 150 }, (_, index) => withSerial(one.certificate.bytes, index));
    const pem = many
      .map(
        (bytes) => `-----BEGIN CERTIFICATE-----\n${Buffer.from(bytes).toString('base64')}\n-----END CERTIFICATE-----\n`,
      )
      .join('');
    expect(serials(utf8(pem))).toHaveLength(150);
    openssl.write('many.pem', pem);
    expect(
      serials(new Uint8Array(openssl.run(['crl2pkcs7', '-nocrl', '-certfile', 'many.pem', '-outform', 'DER']))),
    ).toHaveLength(150);
  });

  test.each<[string, Uint8Array]>([
    ['nothing', new Uint8Array(0)],
    ['a text', utf8('Dear all,')],
    ['half a certificate', one.certificate.bytes.slice(0, 200)],
    ['a private key', one.privateKey],
    ['five megabytes', new Uint8Array(5_000_000)],
  ])('%s holds none', (_, bytes) => expect(certificatesIn(bytes)).toEqual([]));
  test('an odd one of the public suite is found too', () =>
    expect(serials(pkitsCertificate('ValidDSASignaturesTest4EE').bytes)).toHaveLength(1));
});

test('under a handling for what is no secret everybody gets it signed, when the worker can sign; colleagues read here all the same', () => {
  const nobody: Recipient = { name: '', address: 'press@islandecho.example', role: 'to' };
  expect(lineOf(nobody, { clear: true }).chosen).toMatchObject({
    lock: 'certificate',
    clear: true,
    available: true,
    missing: [],
  });
  expect(codes(assessCertificate(nobody, handling({ clear: true }), context(false)).missing)).toEqual([
    'own-certificate-missing',
  ]);
  // Unsigned it goes only where the worker says so.
  expect(lineOf({ ...nobody, lock: 'open' }, { clear: true }).chosen).toMatchObject({ lock: 'open', missing: [] });
  expect(lineOf({ ...nobody, lock: 'open' }).chosen.lock).toBe('room');
  expect(lineOf({ ...nobody, colleague: { ready: true } }, { clear: true }).chosen.lock).toBe('room');
  // Who has a certificate gets the same mail as everybody else: one text, one signature.
  expect(lineOf(clinic, { clear: true }).chosen.clear).toBe(true);
  expect(codes(assessCertificate(nobody, handling({ clear: true, audience: 'staff' }), context(true)).missing)).toEqual(
    ['staff-only'],
  );
});
