/**
 * The certificate lock against OpenSSL's command on the same machine: 25 MB signed and encrypted, opened and checked;
 * recipients by the hundred; certificates judged with evidence at hand.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { randomBytes } from '../core/src/bytes';
import { readCertificate, type Certificate } from '../core/src/certificate/certificate';
import { Evidence } from '../core/src/certificate/evidence';
import { readRevocationList } from '../core/src/certificate/revocation-list';
import { judge } from '../core/src/certificate/verdict';
import { sealEnvelope } from '../core/src/cms/enveloped-data';
import { sealForCertificates } from '../core/src/locks/certificate/seal';
import { unwrapMail } from '../core/src/locks/unwrap';
import { openAuthorities } from '../standins/src/authority/authorities';
import { inWorker } from './in-worker';
import { median } from './measured';
import { type Row } from './row';

/** The same in the browser's worker: sealing, opening, judging. Bytes come in base64. */
const inBrowser = `
import { readCertificate } from './core/src/certificate/certificate';
import { Evidence } from './core/src/certificate/evidence';
import { readRevocationList } from './core/src/certificate/revocation-list';
import { judge } from './core/src/certificate/verdict';
import { sealForCertificates } from './core/src/locks/certificate/seal';
import { unwrapMail } from './core/src/locks/unwrap';
const bytes = (text) => Uint8Array.from(atob(text), (one) => one.charCodeAt(0));
const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
const timed = async (task) => { const from = performance.now(); await task(); return performance.now() - from; };
onmessage = async ({ data }) => {
  const certificate = readCertificate(bytes(data.certificate));
  const privateKey = bytes(data.privateKey);
  const file = new Uint8Array(data.size);
  for (let at = 0; at < file.length; at += 65536) crypto.getRandomValues(file.subarray(at, Math.min(at + 65536, file.length)));
  const address = data.address;
  const message = { messageId: 'a@b.example', from: { name: '', address }, to: [{ name: '', address }], cc: [], subject: 'x', date: new Date(), reference: '', text: 'x', html: '', files: [{ name: 'x', type: 'a/b', bytes: file }] };
  const times = { seal: [], open: [] };
  for (let turn = 0; turn < data.turns; turn++) {
    let mail;
    times.seal.push(await timed(async () => { mail = await sealForCertificates({ message, signer: { certificate, privateKey }, recipients: [{ certificate }], neutralSubject: 'x' }); }));
    times.open.push(await timed(async () => { const { layers } = await unwrapMail(mail, [{ certificate, privateKey }]); if (layers.length !== 2) throw new Error('not both layers'); }));
  }
  const issued = data.issued.map((one) => readCertificate(bytes(one)));
  const evidence = new Evidence({ anchors: [readCertificate(bytes(data.root))], certificates: [readCertificate(bytes(data.issuing))], lists: data.lists.map((one) => readRevocationList(bytes(one))) });
  let valid = 0;
  const judged = await timed(async () => { for (const [index, one] of issued.entries()) if ((await judge({ certificate: one, use: 'encrypt', address: 'n' + index + '@a.example', now: new Date(), evidence })).level === 'valid') valid += 1; });
  postMessage({ seal: median(times.seal), open: median(times.open), judged, valid });
};`;

const SIZE = 25_000_000;
const TURNS = 5;
async function timed(task: () => Promise<unknown> | unknown): Promise<number> {
  const from = performance.now();
  await task();
  return performance.now() - from;
}

export async function certificates(): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-bench-'));
  const openssl = (...args: string[]): Buffer =>
    execFileSync('openssl', args, { cwd: folder, stdio: ['ignore', 'pipe', 'ignore'], maxBuffer: 512 * 1024 * 1024 });
  const authorities = await openAuthorities(undefined, new Date());
  const clinic = authorities.correspondent('records@harbourclinic.example')!;
  const certificate = readCertificate(new Uint8Array(Buffer.from(clinic.certificate, 'base64')));
  const privateKey = new Uint8Array(Buffer.from(clinic.key, 'base64'));
  writeFileSync(join(folder, 'c.der'), certificate.bytes);
  writeFileSync(join(folder, 'k.der'), privateKey);
  openssl('x509', '-inform', 'DER', '-in', 'c.der', '-out', 'c.pem');
  openssl('pkey', '-inform', 'DER', '-in', 'k.der', '-out', 'k.pem');
  const file = new Uint8Array(SIZE);
  for (let at = 0; at < SIZE; at += 65536) file.set(randomBytes(Math.min(65536, SIZE - at)), at);
  const message = {
    messageId: 'a@b.example',
    from: { name: '', address: clinic.address },
    to: [{ name: '', address: clinic.address }],
    cc: [],
    subject: 'x',
    date: new Date(),
    reference: '',
    text: 'x',
    html: '',
    files: [{ name: 'x', type: 'a/b', bytes: file }],
  };
  writeFileSync(
    join(folder, 'plain'),
    Buffer.concat([
      Buffer.from('Content-Type: application/octet-stream\r\nContent-Transfer-Encoding: base64\r\n\r\n'),
      Buffer.from(
        Buffer.from(file)
          .toString('base64')
          .replace(/(.{76})/g, '$1\r\n'),
      ),
    ]),
  );

  const times = { ours: [] as number[], theirs: [] as number[], open: [] as number[], theirOpen: [] as number[] };
  for (let turn = 0; turn < TURNS; turn++) {
    let mail = new Uint8Array(0);
    times.ours.push(
      await timed(async () => {
        mail = await sealForCertificates({
          message,
          signer: { certificate, privateKey },
          recipients: [{ certificate }],
          neutralSubject: 'x',
        });
      }),
    );
    times.theirs.push(
      await timed(() => {
        openssl('cms', '-sign', '-in', 'plain', '-signer', 'c.pem', '-inkey', 'k.pem', '-out', 'signed');
        openssl('cms', '-encrypt', '-aes-256-cbc', '-in', 'signed', '-out', 'sealed', 'c.pem');
      }),
    );
    times.open.push(await timed(() => unwrapMail(mail, [{ certificate, privateKey }])));
    times.theirOpen.push(
      await timed(() => {
        openssl('cms', '-decrypt', '-in', 'sealed', '-recip', 'c.pem', '-inkey', 'k.pem', '-out', 'opened');
        openssl('cms', '-verify', '-noverify', '-in', 'opened', '-out', 'content');
      }),
    );
  }
  readFileSync(join(folder, 'content'));

  const small = randomBytes(1000);
  const sealFor = (count: number): Promise<number> =>
    timed(() =>
      sealEnvelope(
        small,
        Array.from({ length: count }, () => ({ certificate, transport: 'pkcs1' as const })),
        'AES-256-CBC',
      ),
    );
  await sealFor(20);
  const few = median([await sealFor(50), await sealFor(50), await sealFor(50)]) / 50;
  const many = median([await sealFor(500), await sealFor(500), await sealFor(500)]) / 500;

  const { foreign } = authorities;
  const issued: Certificate[] = [];
  const pair = await globalThis.crypto.subtle.generateKey({ name: 'ECDSA', namedCurve: 'P-256' }, true, [
    'sign',
    'verify',
  ]);
  for (let index = 0; index < 1000; index++) {
    issued.push(
      readCertificate(
        await foreign.issue({
          publicKey: pair.publicKey as never,
          name: `n${index}`,
          addresses: [`n${index}@a.example`],
          purpose: 'both',
          from: new Date(Date.now() - 60_000),
          until: new Date(Date.now() + 86_400_000),
        }),
      ),
    );
  }
  const evidence = new Evidence({
    anchors: [readCertificate(foreign.rootCertificate)],
    certificates: [readCertificate(foreign.issuingCertificate)],
    lists: [
      readRevocationList(await foreign.list('root', new Date())),
      readRevocationList(await foreign.list('issuing', new Date())),
    ],
  });
  let valid = 0;
  const judged = await timed(async () => {
    for (const [index, one] of issued.entries())
      if (
        (await judge({ certificate: one, use: 'encrypt', address: `n${index}@a.example`, now: new Date(), evidence }))
          .level === 'valid'
      )
        valid += 1;
  });
  if (valid !== 1000) throw new Error(`${valid} of 1000 were valid`);
  const base64 = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');
  const browser = await inWorker<{ seal: number; open: number; judged: number; valid: number }>(inBrowser, {
    certificate: clinic.certificate,
    privateKey: clinic.key,
    address: clinic.address,
    size: SIZE,
    turns: TURNS,
    issued: issued.map(({ bytes }) => base64(bytes)),
    root: base64(foreign.rootCertificate),
    issuing: base64(foreign.issuingCertificate),
    lists: [base64(await foreign.list('root', new Date())), base64(await foreign.list('issuing', new Date()))],
  });
  if (browser.valid !== 1000) throw new Error(`${browser.valid} of 1000 were valid in the worker`);
  return [
    {
      what: '25 MB signed and encrypted in a Chromium worker ÷ openssl cms (two commands)',
      value: (browser.seal / median(times.theirs)).toFixed(2),
      aim: '≤ 0.9',
    },
    {
      what: '25 MB opened and verified in a Chromium worker ÷ openssl cms (two commands)',
      value: (browser.open / median(times.theirOpen)).toFixed(2),
      aim: '≤ 2, way to ≤ 1',
    },
    {
      what: 'Certificates judged with lists at hand, per second in a Chromium worker',
      value: String(Math.round(1000 / (browser.judged / 1000))),
      aim: '≥ 200',
    },
    {
      what: '25 MB signed and encrypted in Node ÷ openssl cms (two commands)',
      value: (median(times.ours) / median(times.theirs)).toFixed(2),
      aim: '≤ 1.2',
    },
    {
      what: '25 MB opened and verified in Node ÷ openssl cms (two commands)',
      value: (median(times.open) / median(times.theirOpen)).toFixed(2),
      aim: '≤ 2',
    },
    { what: 'Time a recipient, 500 in one message ÷ 50', value: (many / few).toFixed(2), aim: 'flat' },
    {
      what: 'Certificates judged with lists at hand, per second in Node',
      value: String(Math.round(1000 / (judged / 1000))),
      aim: '≥ 200',
    },
  ];
}
