/**
 * The locked file against a native unpacking program and against the bare ciphers, 25 MB in a Chromium worker: stored
 * and compressed ZIPs, a letter with files, a self-opening page.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { randomBytes } from '../core/src/bytes';
import { inWorker } from './in-worker';
import { type Row } from './row';

const SIZE = 25_000_000;
const TURNS = 5;
const PASSWORD = 'tide-harbour-lantern';

const inBrowser = `
import { cbc } from '@noble/ciphers/aes.js';
import { setLetter } from './core/src/locks/file/letter';
import { openSealed } from './core/src/locks/file/page/open-page';
import { sealPage } from './core/src/locks/file/page/seal-page';
import { takenApart } from './core/src/locks/file/page/format';
import { ROUNDS } from './core/src/jose/jwe';
import { writeZip } from './core/src/zip/write';
const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
const timed = async (task) => { const from = performance.now(); const made = await task(); return [performance.now() - from, made]; };
const bytes = (text) => Uint8Array.from(atob(text), (one) => one.charCodeAt(0));
onmessage = async ({ data: { size, turns, password, regular, bold, text } }) => {
  const random = new Uint8Array(size);
  for (let at = 0; at < size; at += 65536) crypto.getRandomValues(random.subarray(at, Math.min(at + 65536, size)));
  const words = new TextEncoder().encode(text.repeat(Math.ceil(size / text.length)).slice(0, size));
  const date = new Date();
  const message = { messageId: 'a@b.example', from: { name: '', address: 'a@b.example' }, to: [{ name: '', address: 'c@b.example' }], cc: [], subject: 'x', date, reference: '', text: 'x', html: '', files: [{ name: 'x.bin', type: 'a/b', bytes: random }] };
  const settings = { language: 'en', zone: 'UTC' };
  const template = '<!doctype html><html lang="und"><!--sealed--></html>';
  const times = { stored: [], packed: [], letter: [], cipher: [], page: [], bare: [] };
  for (let turn = 0; turn < turns; turn++) {
    times.stored.push((await timed(() => writeZip({ files: [{ name: 'x', bytes: random }], lock: { cipher: 'aes-256', password }, date, isPacked: () => true })))[0]);
    times.packed.push((await timed(() => writeZip({ files: [{ name: 'x', bytes: words }], lock: { cipher: 'aes-256', password }, date, isPacked: () => false })))[0]);
    times.letter.push((await timed(() => setLetter({ message, scope: 'everything', settings, fonts: { regular: bytes(regular), bold: bytes(bold) }, paper: 'a4', lock: { password, rights: { reply: true, replyAll: true, forward: true, print: true, copy: true, save: true } }, withFiles: true })))[0]);
    times.cipher.push((await timed(() => cbc(new Uint8Array(32), new Uint8Array(16)).encrypt(random)))[0]);
    const { jwe } = takenApart(new TextDecoder().decode(await sealPage(message, password, 'everything', settings, template)));
    times.page.push((await timed(() => openSealed(jwe, password)))[0]);
    const key = await crypto.subtle.generateKey({ name: 'AES-GCM', length: 256 }, false, ['encrypt', 'decrypt']);
    const sealed = await crypto.subtle.encrypt({ name: 'AES-GCM', iv: new Uint8Array(12) }, key, random);
    times.bare.push((await timed(async () => {
      const material = await crypto.subtle.importKey('raw', new TextEncoder().encode(password), 'PBKDF2', false, ['deriveBits']);
      await crypto.subtle.deriveBits({ name: 'PBKDF2', hash: 'SHA-512', salt: new Uint8Array(16), iterations: ROUNDS }, material, 256);
      await crypto.subtle.decrypt({ name: 'AES-GCM', iv: new Uint8Array(12) }, key, sealed);
    }))[0]);
  }
  postMessage(Object.fromEntries(Object.entries(times).map(([name, list]) => [name, median(list)])));
};`;

/** Milliseconds of the native program on one thread, the middle of several turns. */
function native(folder: string, file: string, level: 0 | 5): number {
  const times = Array.from({ length: TURNS }, () => {
    rmSync(join(folder, 'x.zip'), { force: true });
    const from = performance.now();
    execFileSync(
      '/usr/bin/7zz',
      ['a', '-tzip', `-mx${level}`, '-mmt1', `-p${PASSWORD}`, '-mem=AES256', 'x.zip', file],
      { cwd: folder, stdio: 'ignore' },
    );
    return performance.now() - from;
  });
  return times.sort((a, b) => a - b)[Math.floor(TURNS / 2)]!;
}

export async function lockedFiles(): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-bench-'));
  const random = new Uint8Array(SIZE);
  for (let at = 0; at < SIZE; at += 65_536) random.set(randomBytes(Math.min(65_536, SIZE - at)), at);
  // Prose, not one line again and again: as much of it differs as in a long report.
  const text = Array.from(
    { length: 20_000 },
    (_, index) =>
      `On day ${index} the boat ${['Teal', 'Heron', 'Petrel'][index % 3]!} carried ${(index * 7_919) % 400} people and ${(index * 104_729) % 97} cars past mark ${(index * 31) % 53}. `,
  ).join('');
  writeFileSync(join(folder, 'random'), random);
  writeFileSync(join(folder, 'words'), text.repeat(Math.ceil(SIZE / text.length)).slice(0, SIZE));
  const font = (weight: number): string => readFileSync(`app/public/fonts/next-${weight}.ttf`).toString('base64');
  const ours = await inWorker<Record<'stored' | 'packed' | 'letter' | 'cipher' | 'page' | 'bare', number>>(inBrowser, {
    size: SIZE,
    turns: TURNS,
    password: PASSWORD,
    regular: font(400),
    bold: font(700),
    text,
  });
  const row = (what: string, ratio: number, aim: string): Row => ({ what, value: ratio.toFixed(2), aim });
  const rows = [
    row(
      '25 MB stored into an AES-256 ZIP in a worker ÷ 7zz, one thread',
      ours.stored / native(folder, 'random', 0),
      '≤ 3, way to ≤ 1.5',
    ),
    row(
      '25 MB compressed into an AES-256 ZIP in a worker ÷ 7zz, one thread',
      ours.packed / native(folder, 'words', 5),
      '≤ 1.2',
    ),
    row('A letter with 25 MB of files as a locked PDF ÷ the bytes through AES alone', ours.letter / ours.cipher, '≤ 3'),
    row('A self-opening page of 25 MB opened ÷ its key derivation and raw decryption', ours.page / ours.bare, '≤ 2'),
  ];
  rmSync(folder, { recursive: true, force: true });
  return rows;
}
