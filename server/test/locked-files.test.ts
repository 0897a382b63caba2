/**
 * Locked files as copies: what the server lets leave, judged by their octets and the handling; the office's rules; and
 * that no password is ever here to be read.
 */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as fileApi from '@under-lock/contract/file-lock';
import * as messageApi from '@under-lock/contract/outgoing';
import * as rulesApi from '@under-lock/contract/rules';
import { type Ruled } from '@under-lock/contract/rules';
import { type Bytes, utf8 } from '@under-lock/core/bytes';
import { defined } from '@under-lock/core/defined';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { type FileRules, OUR_RULES } from '@under-lock/core/locks/file/rules';
import { type FileSealInput, sealInFile } from '@under-lock/core/locks/file/seal';
import { type FileWay, USUAL_WAY } from '@under-lock/core/ways/file-way';
import { buildMessage } from '@under-lock/core/message/build';
import { outerSubject } from '@under-lock/core/notice/notice';
import { NO_CONTENT } from '@under-lock/core/rules/facts';
import { type Rule } from '@under-lock/core/rules/rule';
import { writeZip } from '@under-lock/core/zip/write';
import { answerOf, demoMessage, eventually, type House, openHouse, prepare, upload, type Worker } from './house';

let house: House;
let maren: Worker;
let ines: Worker;
const PELL = 'pell.anders@postbox.example';
const PASSWORD = 'tide-harbour-lantern';
const TEMPLATE =
  '<!doctype html>\n<html lang="und"><head></head><body><main></main><!--sealed--><script>1</script></body></html>\n';
beforeAll(async () => {
  // Pages of its own: the built ones are other tests'.
  const appDir = mkdtempSync(join(tmpdir(), 'under-lock-app-'));
  writeFileSync(join(appDir, 'locked-page.html'), TEMPLATE);
  house = await openHouse({ UNDERLOCK_APP_DIR: appDir });
  maren = await house.worker('maren.oduya');
  ines = await house.worker('ines.varga', 'administrator');
}, 60_000);
afterAll(() => house.stop());

const message = () =>
  demoMessage({
    from: { name: maren.account.name, address: maren.account.address },
    to: [{ name: 'Pell Anders', address: PELL }],
    files: [{ name: 'paper.txt', type: 'text/plain', bytes: utf8('Fit for duty.') }],
  });
const officeName = () => house.server.context.config.office.name;
const sealed = (way: Partial<FileWay> = {}, over: Partial<FileSealInput> = {}): Promise<Bytes> =>
  sealInFile({
    message: message(),
    way: { ...USUAL_WAY, ...way },
    password: PASSWORD,
    recipient: { name: 'Pell Anders', address: PELL },
    language: 'de',
    officeName: officeName(),
    templates: {},
    storedTypes: [],
    zone: 'Europe/Lisbon',
    neutralSubject: outerSubject('de', officeName()),
    rights: NO_RIGHTS,
    materials: {
      fonts: () => Promise.reject(new Error('none')),
      paper: 'a4',
      template: () => Promise.resolve(TEMPLATE),
    },
    ...over,
  });

async function send(raw: Bytes, terms: { copies?: boolean; clear?: boolean; textOpen?: boolean } = {}, ruled?: Ruled) {
  const prepared = await prepare(message(), { addresses: [], terms: { copies: true, clear: false, ...terms } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const blobId = crypto.randomUUID();
  await upload(maren.client, blobId, raw);
  const copy = {
    id: crypto.randomUUID(),
    lock: 'file' as const,
    blobId,
    recipients: [{ id: crypto.randomUUID(), address: PELL, name: 'Pell Anders', role: 'to' as const }],
  };
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, copies: [copy], ...defined({ ruled }) },
  });
  return prepared.id;
}

test.each([['zip'], ['page']] as const)('a %s leaves as it was sealed', async (container) => {
  const raw = await sealed({ container });
  const id = await send(raw);
  const sent = await eventually(async () => {
    const found = await maren.client(messageApi.getSent, { params: { id } });
    return found.copies[0]?.state === 'accepted' ? found : undefined;
  });
  expect(sent.copies).toMatchObject([{ lock: 'file', address: PELL, state: 'accepted' }]);
  const mail = Buffer.from(house.world.store.mails.filter(({ mailbox }) => mailbox === PELL).at(-1)!.raw, 'base64');
  expect(Buffer.compare(mail.subarray(mail.length - raw.length), raw)).toBe(0);
});

const mailWith = (over: Partial<ReturnType<typeof demoMessage>>): Bytes =>
  buildMessage({ ...message(), html: '', ...over });
const openZip = () =>
  writeZip({
    files: [{ name: 'paper.txt', bytes: utf8('Fit.') }],
    lock: undefined,
    date: new Date(),
    isPacked: () => false,
  });
const zipFile = (bytes: Bytes) => [{ name: 'a.zip', type: 'application/zip', bytes }];

test.each<[string, () => Promise<Bytes>, Parameters<typeof send>[1], RegExp]>([
  ['a copy where the handling allows none', () => sealed(), { copies: false }, /below-preset.*copy of their own/],
  [
    'readable text where the handling lets none stay',
    () => sealed({ scope: 'files' }),
    {},
    /below-preset.*readable beside/,
  ],
  [
    'text hidden behind a note',
    async () =>
      Buffer.from(
        Buffer.from(await sealed())
          .toString('latin1')
          .replace(/(base64\r\n\r\n)/, `$1${Buffer.from('Fit for duty. ').toString('base64')}`),
        'latin1',
      ) as unknown as Bytes,
    {},
    /below-preset.*readable beside/,
  ],
  [
    'a subject that says what is inside',
    () => sealed({}, { neutralSubject: 'Medical paper of P. Anders' }),
    {},
    /below-preset.*readable beside/,
  ],
  [
    'what is only packed',
    () => sealed({}, { password: undefined }),
    { textOpen: true },
    /below-preset.*without a lock/,
  ],
  [
    'an archive in which one file is open',
    async () => mailWith({ files: zipFile(await openZip()) }),
    { textOpen: true },
    /below-preset.*without a lock/,
  ],
  [
    'a page of somebody else’s making around a sealed part',
    async () =>
      Buffer.from(
        Buffer.from(
          await sealed(
            { container: 'page' },
            {
              materials: {
                fonts: () => Promise.reject(new Error('none')),
                paper: 'a4',
                template: () => Promise.resolve(TEMPLATE.replace('<main>', '<main>Fit for duty.')),
              },
            },
          ),
        ).toString('latin1'),
        'latin1',
      ) as unknown as Bytes,
    { textOpen: true },
    /below-preset.*without a lock/,
  ],
  ['the legacy cipher', () => sealed({ cipher: 'legacy' }), {}, /below-preset.*legacy cipher/],
  [
    'two files',
    async () => mailWith({ files: [...zipFile(await openZip()), ...zipFile(await openZip())] }),
    { clear: true },
    /not under the lock it is said to be under \(file\)/,
  ],
  [
    'no file',
    async () => mailWith({ files: [] }),
    { clear: true },
    /not under the lock it is said to be under \(file\)/,
  ],
  [
    'formatted text beside a file that is only packed',
    async () => mailWith({ html: '<p>Fit for duty.</p>', files: zipFile(await openZip()) }),
    { textOpen: true },
    /below-preset.*without a lock/,
  ],
])('%s is refused', async (_, raw, terms, said) =>
  expect(await answerOf(raw().then((bytes) => send(bytes, terms)))).toMatch(said),
);

test('readable text and packed files leave where the handling says so', async () => {
  expect(await answerOf(send(await sealed({ scope: 'files' }), { textOpen: true }))).toBe('done');
  const formatted = { ...message(), html: '<p>Fit for <b>duty</b>.</p>' };
  for (const over of [{}, { message: formatted }])
    expect(
      await answerOf(send(await sealed({}, { password: undefined, ...over }), { copies: false, clear: true })),
    ).toBe('done');
});

test('a rule that names a container holds for the octets that leave, whatever is said of them', async () => {
  const id = crypto.randomUUID();
  const value: Rule = {
    id,
    name: 'Papers as a page',
    sentence: 'Their gateway takes nothing else.',
    state: 'on',
    when: { allOf: [], anyOf: [], noneOf: [] },
    effects: [{ kind: 'lock-files', container: 'page' }],
  };
  const { version } = await ines.client(rulesApi.putPolicyItem, {
    params: { id },
    body: { item: { kind: 'rule', value }, over: (await ines.client(rulesApi.getPolicy)).version },
  });
  const ruled: Ruled = { version, content: NO_CONTENT, withoutLock: [], confirmed: [], harmless: [] };
  const [packed, page] = [await sealed(), await sealed({ container: 'page' })];
  try {
    expect(await answerOf(send(packed, {}, ruled))).toMatch(/^breaks-rule.*“Papers as a page”.*locked in another way/);
    await send(page, {}, ruled);
  } finally {
    await ines.client(rulesApi.removePolicyItem, { params: { id } });
  }
  await send(packed);
});

test('one mail goes to one recipient: each has a password of their own', async () => {
  const raw = await sealed();
  const prepared = await prepare(message(), { addresses: [], terms: { copies: true } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const blobId = crypto.randomUUID();
  await upload(maren.client, blobId, raw);
  const recipient = (address: string) => ({ id: crypto.randomUUID(), address, name: '', role: 'to' as const });
  const copy = {
    id: crypto.randomUUID(),
    lock: 'file' as const,
    blobId,
    recipients: [recipient(PELL), recipient('una@postbox.example')],
  };
  expect(
    await answerOf(
      maren.client(messageApi.dispatchMessage, {
        params: { id: prepared.id },
        body: { ...prepared.dispatch, copies: [copy] },
      }),
    ),
  ).toMatch(/one recipient at a time/);
});

describe('the office’s rules', () => {
  const rules: FileRules = {
    ...OUR_RULES,
    legacyAllowed: true,
    templates: { de: 'Von {sender}: {file}. {password} {open} Fragen: Frau Varga.' },
  };
  test('administrators change them, workers read them, and nobody takes what is wrong with them', async () => {
    expect(await maren.client(fileApi.getFileRules)).toEqual(OUR_RULES);
    expect(await answerOf(maren.client(fileApi.putFileRules, { body: rules }))).toMatch(
      /^forbidden|^not-allowed|administrator/i,
    );
    expect(
      await answerOf(
        ines.client(fileApi.putFileRules, { body: { ...rules, templates: { de: 'Von {sender}: {file}' } } }),
      ),
    ).toMatch(/template \(de: placeholder-missing\)/);
    expect(
      await answerOf(ines.client(fileApi.putFileRules, { body: { ...rules, exceptions: [{ whom: 'nobody' }] } })),
    ).toMatch(/exception \(nobody\)/);
    await ines.client(fileApi.putFileRules, { body: rules });
    expect(await maren.client(fileApi.getFileRules)).toEqual(rules);
  });

  test('the office’s own note passes, ours no more, and the legacy cipher where it is allowed', async () => {
    expect(await answerOf(send(await sealed({}, { templates: rules.templates })))).toBe('done');
    expect(await answerOf(send(await sealed()))).toMatch(/readable beside/);
    expect(await answerOf(send(await sealed({ cipher: 'legacy' }, { templates: rules.templates })))).toBe('done');
  });
});
