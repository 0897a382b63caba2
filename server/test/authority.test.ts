/** The authority of the outside world, judged by OpenSSL: what it issues, lists and answers. */
import { execFile, execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { KEY_KINDS, makeKeyPair, makeRequest } from '@under-lock/core/certificate/make-key';
import { addressesOf, readCertificate } from '@under-lock/core/certificate/certificate';
import { Evidence } from '@under-lock/core/certificate/evidence';
import { ocspRequest, readOcspAnswer } from '@under-lock/core/certificate/ocsp';
import { readRevocationList } from '@under-lock/core/certificate/revocation-list';
import { judge } from '@under-lock/core/certificate/verdict';
import { startWorld, type World } from '@under-lock/standins/world';

const OFFICE = 'authority.larkmoor.example';
let world: World;
const folder = mkdtempSync(join(tmpdir(), 'under-lock-authority-'));
const file = (name: string, bytes?: Uint8Array): string => {
  if (bytes !== undefined) writeFileSync(join(folder, name), bytes);
  return join(folder, name);
};
const toBase64 = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');
const openssl = (...args: string[]): string =>
  execFileSync('openssl', args, { cwd: folder, stdio: ['ignore', 'pipe', 'pipe'] }).toString();
const get = async (path: string, init?: RequestInit): Promise<Uint8Array<ArrayBuffer>> => {
  const response = await fetch(`http://127.0.0.1:${world.httpPort}/web/${OFFICE}/${path}`, init);
  if (!response.ok) throw new Error(`${path}: ${response.status} ${await response.text()}`);
  return new Uint8Array(await response.arrayBuffer());
};

beforeAll(async () => {
  world = await startWorld({ smtpPort: 0, httpPort: 0 });
  for (const name of ['root', 'issuing']) {
    file(`${name}.cer`, await get(`${name}.cer`));
    openssl('x509', '-inform', 'DER', '-in', `${name}.cer`, '-out', `${name}.pem`);
  }
}, 60_000);
afterAll(() => world.stop());

const asked = async (kind: (typeof KEY_KINDS)[number], address: string) => {
  const keys = await makeKeyPair(kind);
  const request = await makeRequest(keys, { name: 'Maren Oduya, Łódź', addresses: [address, `second.${address}`] });
  file('request.der', request);
  expect(openssl('req', '-inform', 'DER', '-in', 'request.der', '-verify', '-noout', '-text')).toContain(
    `email:${address}, email:second.${address}`,
  );
  const reply = JSON.parse(
    Buffer.from(
      await get('certificates', { method: 'POST', headers: { 'Content-Type': 'application/pkcs10' }, body: request }),
    ).toString(),
  ) as { certificate: string; chain: string[] };
  return readCertificate(new Uint8Array(Buffer.from(reply.certificate, 'base64')));
};

test.each(KEY_KINDS)(
  'a request with a key of %s is one to OpenSSL, and what is issued for it is a mail certificate under its root',
  async (kind) => {
    const certificate = await asked(kind, 'maren.oduya@larkmoor.example');
    openssl('x509', '-inform', 'DER', '-in', file('issued.cer', certificate.bytes), '-out', 'issued.pem');
    const crls = await Promise.all(
      ['root', 'issuing'].map(async (name) =>
        openssl('crl', '-inform', 'DER', '-in', file(`${name}.crl`, await get(`${name}.crl`))),
      ),
    );
    file('crls.pem', Buffer.from(crls.join('')));
    expect(
      openssl(
        'verify',
        '-CAfile',
        'root.pem',
        '-untrusted',
        'issuing.pem',
        '-purpose',
        'smimesign',
        '-crl_check_all',
        '-CRLfile',
        'crls.pem',
        '-x509_strict',
        'issued.pem',
      ),
    ).toContain('OK');
    // OpenSSL's other purpose wants keyEncipherment, which RFC 5480 §3 forbids for elliptic curves.
    if (kind === 'rsa-3072')
      expect(
        openssl('verify', '-CAfile', 'root.pem', '-untrusted', 'issuing.pem', '-purpose', 'smimeencrypt', 'issued.pem'),
      ).toContain('OK');
    expect(addressesOf(certificate)).toEqual(['maren.oduya@larkmoor.example', 'second.maren.oduya@larkmoor.example']);
  },
);

test('revoked, it is on the list and in the answer, for OpenSSL and for us', async () => {
  const certificate = await asked('p-256', 'tobias.quill@larkmoor.example');
  openssl('x509', '-inform', 'DER', '-in', file('issued.cer', certificate.bytes), '-out', 'issued.pem');
  const issuing = readCertificate(await get('issuing.cer'));
  const [root, lists] = [
    readCertificate(await get('root.cer')),
    async () => [readRevocationList(await get('root.crl')), readRevocationList(await get('issuing.crl'))],
  ];
  const ocsp = async () =>
    readOcspAnswer(await get('ocsp', { method: 'POST', body: ocspRequest(certificate, issuing) }));
  const verdict = async (evidence: ConstructorParameters<typeof Evidence>[0]) =>
    judge({
      certificate,
      use: 'sign',
      address: 'tobias.quill@larkmoor.example',
      now: new Date(),
      evidence: new Evidence(evidence),
    });
  const base = { anchors: [root], certificates: [issuing] };
  // Not in one turn: the responder answers from this very process.
  const asOpenssl = async () =>
    promisify(execFile)(
      'openssl',
      [
        'ocsp',
        '-issuer',
        'issuing.pem',
        '-cert',
        'issued.pem',
        '-url',
        `http://127.0.0.1:${world.httpPort}/web/${OFFICE}/ocsp`,
        '-CAfile',
        'root.pem',
      ],
      { cwd: folder, timeout: 60_000 },
    ).then(({ stdout, stderr }) => stdout + stderr);

  expect(await verdict(base)).toMatchObject({ level: 'unchecked', findings: [{ code: 'not-checked' }] });
  expect(await verdict({ ...base, lists: await lists() })).toMatchObject({ level: 'valid', findings: [] });
  expect(await verdict({ ...base, lists: [(await lists())[0]!], answers: [await ocsp()] })).toMatchObject({
    level: 'valid',
  });
  expect(await asOpenssl()).toContain('issued.pem: good');

  const serial = openssl('x509', '-in', 'issued.pem', '-noout', '-serial').trim().replace('serial=', '').toLowerCase();
  await get('revocations', { method: 'POST', body: JSON.stringify({ serial, reason: 'superseded' }) });
  await expect(
    get('revocations', { method: 'POST', body: JSON.stringify({ serial, reason: 'superseded' }) }),
  ).rejects.toThrow('409');
  expect(await asOpenssl()).toContain('issued.pem: revoked');
  expect(await verdict({ ...base, lists: await lists() })).toMatchObject({
    level: 'stop',
    findings: [{ code: 'revoked', reason: 'superseded', authority: false }],
  });
  expect(await verdict({ ...base, answers: [await ocsp()] })).toMatchObject({
    level: 'stop',
    findings: [{ code: 'revoked' }, { code: 'not-checked' }],
  });
  // Signed before, it stays what it was; unless the key had got into other hands.
  const before = await judge({
    certificate,
    use: 'sign',
    at: new Date(Date.now() - 30_000),
    now: new Date(),
    evidence: new Evidence({ ...base, lists: await lists() }),
  });
  expect(before).toMatchObject({ level: 'valid', findings: [{ code: 'revoked-since' }] });
});

test.each([
  ['records@harbourclinic.example', 'valid', []],
  ['odile.brask@harbourclinic.example', 'valid', []],
  ['billing@harbourclinic.example', 'stop', ['expired']],
  ['wards@harbourclinic.example', 'stop', ['revoked']],
  ['web@harbourclinic.example', 'stop', ['not-for-mail']],
  ['desk@quayarchive.example', 'stop', ['too-weak']],
  ['duty@pilots.example', 'valid', []],
])('%s of the directory is judged %s %j', async (address, level, codes) => {
  const web = `http://127.0.0.1:${world.httpPort}/web`;
  const { entries } = (await (await fetch(`${web}/directory.islestrust.example/people?mail=${address}`)).json()) as {
    entries: { certificates: string[] }[];
  };
  const certificate = readCertificate(new Uint8Array(Buffer.from(entries[0]!.certificates[0]!, 'base64')));
  const fetched = async (name: string): Promise<Uint8Array> =>
    new Uint8Array(await (await fetch(`${web}/ca.islestrust.example/${name}`)).arrayBuffer());
  const evidence = new Evidence({
    anchors: [readCertificate(await fetched('root.cer'))],
    certificates: [readCertificate(await fetched('issuing.cer'))],
    lists: [readRevocationList(await fetched('root.crl')), readRevocationList(await fetched('issuing.crl'))],
  });
  for (const use of ['sign', 'encrypt'] as const) {
    const verdict = await judge({ certificate, use, address, now: new Date(), evidence });
    expect({ level: verdict.level, codes: verdict.findings.map(({ code }) => code) }).toEqual({ level, codes });
  }
  // Without its root nothing of it is known.
  expect(
    await judge({ certificate, use: 'encrypt', now: new Date(), evidence: new Evidence({ anchors: [] }) }),
  ).toMatchObject({
    level: 'stop',
    findings: expect.arrayContaining([{ code: 'unknown-authority', issuer: 'Isles Trust Mail' }]),
  });
});

test('what is no request, or names nobody, is refused with a sentence', async () => {
  const post = async (body: Uint8Array<ArrayBuffer>): Promise<string> =>
    get('certificates', { method: 'POST', body }).then(
      () => 'issued',
      (error: Error) => error.message,
    );
  expect(await post(Uint8Array.of(1, 2, 3))).toContain('422');
  const request = await makeRequest(await makeKeyPair('p-256'), { name: 'x', addresses: ['a@larkmoor.example'] });
  request[request.length - 5]! ^= 1;
  expect(await post(request)).toContain('not signed with its key');
});

describe('with keys made before', () => {
  const ready = process.env.UNDERLOCK_TEST_KEYS!;
  let worlds: World[];
  beforeAll(async () => {
    worlds = await Promise.all([0, 1].map(() => startWorld({ smtpPort: 0, httpPort: 0, ready })));
  });
  afterAll(() => Promise.all(worlds.map((one) => one.stop())));

  test('every world that is told of them uses them, and none of them writes there', async () => {
    const written = (): string => readFileSync(join(ready, 'openpgp.json'), 'utf8');
    const before = written();
    const [root, otherRoot] = await Promise.all(
      worlds.map(async (one) => toBase64((await one.authorities()).office.rootCertificate)),
    );
    expect(root).toBe(otherRoot);
    const [rings, address] = [await Promise.all(worlds.map((one) => one.keyring())), 'una.pike@skerryfreight.example'];
    const secrets = (): string[] => rings.map((one) => one.holder(address)!.secret);
    expect(new Set(secrets()).size).toBe(1);
    await rings[0]!.change(address, 'replace', new Date());
    expect(new Set(secrets()).size).toBe(2);
    expect(written()).toBe(before);
  });
});
