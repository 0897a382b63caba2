/** Release by a second person at the server: what waits, who reads it, who decides, and that nobody gets round it. */
import { putMayRelease } from '@under-lock/contract/account';
import { dispatchMessage, getSent } from '@under-lock/contract/outgoing';
import * as releaseApi from '@under-lock/contract/release';
import * as rulesApi from '@under-lock/contract/rules';
import { concat, fromBase64Url, randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import {
  openPaper,
  openReleaseKey,
  openSentence,
  type Paper,
  sealForRelease,
  sealSentence,
} from '@under-lock/core/release/paper';
import { type Effect } from '@under-lock/core/rules/demand';
import { NO_CONTENT } from '@under-lock/core/rules/facts';
import { randomUUID } from 'node:crypto';
import PostalMime from 'postal-mime';
import { rows, run } from '../src/data/database';
import { AccountRow } from '../src/data/models';
import { endWaiting, letGo as letItGo } from '../src/outgoing/release';
import { tellOfReleases } from '../src/outgoing/release-mails';
import {
  codeOf,
  demoMessage,
  demoTerms,
  giveKeyPair,
  type House,
  type KeyPair,
  openHouse,
  prepare,
  upload,
  type Worker,
} from './house';

let house: House;
let admin: Worker;
let maren: Worker;
let signe: Worker;
let adminKey: KeyPair;
let marenKey: KeyPair;
const RULE = randomUUID();
beforeAll(async () => {
  house = await openHouse();
  [admin, maren, signe] = [
    await house.worker('ines.varga', 'administrator'),
    await house.worker('maren.oduya'),
    await house.worker('signe.holt'),
  ];
  [adminKey, marenKey] = [await giveKeyPair(admin), await giveKeyPair(maren)];
  await giveKeyPair(signe);
  for (const { account } of [admin, maren]) await mayRelease(account.id, true);
  await putRule([{ kind: 'release' }]);
});
afterEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

const setClock = (at: number): void => void Object.assign(house.clock, { now: new Date(at), real: false });
const mayRelease = (id: string, may: boolean) => admin.client(putMayRelease, { params: { id }, body: { may } });
const version = async (): Promise<number> => (await admin.client(rulesApi.getPolicy)).version;
const putRule = async (effects: Effect[], id = RULE) =>
  admin.client(rulesApi.putPolicyItem, {
    params: { id },
    body: {
      item: {
        kind: 'rule',
        value: {
          id,
          name: id === RULE ? 'Pay lists' : 'Another',
          sentence: 'Two see what people earn before it leaves.',
          state: 'on',
          when: {
            allOf: [{ kind: 'finding-is', kinds: ['account'], sureOnly: false, least: 1 }],
            anyOf: [],
            noneOf: [],
          },
          effects,
        },
      },
      over: await version(),
    },
  });

const { audience: _, ...terms } = demoTerms;
const paper = (over: Partial<Paper> = {}): Paper => ({
  recipients: [{ name: 'Pell Anders', address: 'pell.anders@postbox.example', role: 'to', lock: 'room' }],
  terms: { ...terms, audience: 'anyone' },
  closesAt: new Date().toISOString(),
  reference: '',
  seen: [],
  more: false,
  unread: [],
  confirmed: [],
  note: 'The yard asked for it.',
  ...over,
});

interface Asking {
  to?: { worker: Worker; key: KeyPair }[];
  closing?: 'two-weeks';
  closesAt?: Date;
  from?: Worker;
}

async function prepared({ to = [{ worker: admin, key: adminKey }], closing, closesAt }: Asking = {}) {
  const message = await prepare(demoMessage({ files: [] }), closesAt === undefined ? {} : { closesAt });
  const key = { key: toBase64Url(message.contentKey.key), salt: toBase64Url(message.contentKey.salt) };
  const sealed = await sealForRelease(
    message.id,
    key,
    paper(),
    to.map(({ worker, key: own }) => ({ id: worker.account.id, key: own })),
  );
  const body = {
    ...message.dispatch,
    summary: randomBytes(64),
    ruled: {
      version: await version(),
      content: {
        ...NO_CONTENT,
        found: [{ kind: 'account' as const, of: 'iban', confidence: 'sure' as const, part: 'text' as const, count: 1 }],
      },
      withoutLock: [],
      confirmed: [],
      harmless: [],
    },
    release: { ...sealed, zone: 'Europe/Lisbon', ...(closing === undefined ? {} : { closing: { kind: closing } }) },
  };
  return { ...message, body };
}

async function asked(asking: Asking = {}) {
  const message = await prepared(asking);
  const sender = asking.from ?? maren;
  await upload(sender.client, message.contentBlobId, message.content);
  const answer = await sender.client(dispatchMessage, { params: { id: message.id }, body: message.body });
  return { ...message, answer };
}

const waitsFor = async ({ client }: Worker): Promise<string[]> =>
  (await client(releaseApi.listReleases)).asked.map(({ id }) => id);
const letGo = (worker: Worker, id: string) => worker.client(releaseApi.letGo, { params: { id } });
const mailsTo = (address: string) => house.world.store.mails.filter(({ mailbox }) => mailbox === address);

test('what a rule wants released waits, is read by who may, and leaves as it was handed over', async () => {
  const { id, answer, body } = await asked();
  expect(answer).toEqual({ already: false });
  expect(await codeOf(maren.client(getSent, { params: { id } }))).toBe('not-found');
  const repeated = await maren.client(dispatchMessage, { params: { id }, body });
  expect(repeated).toEqual({ already: true });
  const { own } = await maren.client(releaseApi.listReleases);
  expect(own).toMatchObject([
    { id, state: 'waiting', rules: ['Pay lists'], people: 1, releasers: [admin.account.name] },
  ]);

  const [one] = (await admin.client(releaseApi.listReleases)).asked;
  expect(one).toMatchObject({ id, from: { name: maren.account.name }, rules: ['Pay lists'], people: 1 });
  const shown = await admin.client(releaseApi.getRelease, { params: { id } });
  const key = await openReleaseKey(adminKey.privateKey, shown.sealedKey, id);
  expect((await openPaper(shown.paper, key, id)).note).toBe('The yard asked for it.');
  const content = await admin.client(releaseApi.getReleasePart, { params: { id, index: 0 } });
  expect((await openFromRoom({ content: concat(content), key })).text).toContain('eyesight');

  await letGo(admin, id);
  const sent = await maren.client(getSent, { params: { id } });
  expect(sent.grants).toHaveLength(1);
  expect(sent.rules?.acted).toEqual(['Pay lists']);
  expect(sent.events.find(({ kind }) => kind === 'let-go')?.address).toBe(admin.account.address);
  expect((await maren.client(releaseApi.listReleases)).own).toEqual([]);
  expect(await waitsFor(admin)).toEqual([]);
  expect(await maren.client(dispatchMessage, { params: { id }, body })).toMatchObject({ already: true });
  const [kept] = await rows(
    house.server.context.db,
    'SELECT body, paper, (SELECT count(*)::int FROM release_keys k WHERE k.release_id = r.id) AS keys FROM releases r WHERE id = $1',
    [id],
  );
  expect(kept).toEqual({ body: null, paper: null, keys: 0 });
});

test('nobody lets go their own, and nobody else without the permission, whatever they were sealed', async () => {
  const own = await prepared({ to: [{ worker: maren, key: marenKey }] });
  await upload(maren.client, own.contentBlobId, own.content);
  expect(await codeOf(maren.client(dispatchMessage, { params: { id: own.id }, body: own.body }))).toBe('invalid-input');

  const { id } = await asked();
  for (const worker of [maren, signe]) {
    expect(await codeOf(letGo(worker, id))).toBe('not-found');
    expect(await codeOf(worker.client(releaseApi.getRelease, { params: { id } }))).toBe('not-found');
    expect(await codeOf(worker.client(releaseApi.getReleasePart, { params: { id, index: 0 } }))).toBe('not-found');
    expect(
      await codeOf(worker.client(releaseApi.sendBack, { params: { id }, body: { sentence: randomBytes(80) } })),
    ).toBe('not-found');
  }
  await mayRelease(admin.account.id, false);
  expect(await waitsFor(admin)).toEqual([]);
  expect(await codeOf(letGo(admin, id))).toBe('not-found');
  await mayRelease(admin.account.id, true);
  expect(await codeOf(signe.client(putMayRelease, { params: { id: signe.account.id }, body: { may: true } }))).toBe(
    'not-allowed',
  );
  await letGo(admin, id);
});

test('without a release it does not go, and a stop of another rule is no matter for anybody’s word', async () => {
  const message = await prepared();
  await upload(maren.client, message.contentBlobId, message.content);
  const { release, ...plain } = message.body;
  expect(release.keys).toHaveLength(1);
  expect(await codeOf(maren.client(dispatchMessage, { params: { id: message.id }, body: plain }))).toBe('breaks-rule');
  const other = randomUUID();
  const { id } = await asked();
  await putRule([{ kind: 'stop', sentence: 'Not this month.' }], other);
  const again = await prepared();
  await upload(maren.client, again.contentBlobId, again.content);
  expect(await codeOf(maren.client(dispatchMessage, { params: { id: again.id }, body: again.body }))).toBe(
    'breaks-rule',
  );
  // What waits is held against the rules as they are when it is to leave.
  expect(await codeOf(letGo(admin, id))).toBe('breaks-rule');
  await admin.client(rulesApi.removePolicyItem, { params: { id: other } });
  await letGo(admin, id);
});

test('sent back with a sentence only its sender reads; it may be handed over again, or taken back', async () => {
  const { id, body } = await asked();
  const sentence = await sealSentence(marenKey, 'Leave out the crew’s addresses.', id);
  await admin.client(releaseApi.sendBack, { params: { id }, body: { sentence } });
  const [back] = (await maren.client(releaseApi.listReleases)).own;
  expect(back).toMatchObject({ id, state: 'sent-back', by: { name: admin.account.name } });
  expect(await openSentence(marenKey.privateKey, back!.sentence!, id)).toBe('Leave out the crew’s addresses.');
  expect(await codeOf(letGo(admin, id))).toBe('not-found');
  expect(await maren.client(dispatchMessage, { params: { id }, body })).toEqual({ already: false });
  expect(await waitsFor(admin)).toEqual([id]);
  await signe.client(releaseApi.takeReleaseBack, { params: { id } });
  expect(await waitsFor(admin)).toEqual([id]);
  await maren.client(releaseApi.takeReleaseBack, { params: { id } });
  expect(await waitsFor(admin)).toEqual([]);
});

test('of many at once one lets it go, and one message leaves', async () => {
  const { id } = await asked();
  const ends = await Promise.all(
    Array.from({ length: 8 }, () =>
      letGo(admin, id).then(
        () => 'gone',
        () => 'not',
      ),
    ),
  );
  expect(ends.filter((end) => end === 'gone')).toHaveLength(1);
  expect((await maren.client(getSent, { params: { id } })).grants).toHaveLength(1);
  expect(await codeOf(maren.client(releaseApi.takeReleaseBack, { params: { id } }))).toBe('conflict');
});

test('a date that was chosen as two weeks counts from when it leaves; a named one stays, and may have passed', async () => {
  const day = 86_400_000;
  const now = Date.now();
  const counted = await asked({ closing: 'two-weeks', closesAt: new Date(now + 14 * day) });
  const named = await asked({ closesAt: new Date(now + 5 * day) });
  const passed = await asked({ closesAt: new Date(now + 2 * day) });
  setClock(now + 3 * day);
  // Nobody’s sign-in lasts that long.
  const releaser = (await AccountRow.findByPk(admin.account.id))!;
  const letGoThen = (id: string) => letItGo(house.server.context, releaser, id);
  await letGoThen(counted.id);
  await letGoThen(named.id);
  await expect(letGoThen(passed.id)).rejects.toMatchObject({ code: 'closing-out-of-range' });
  house.clock.real = true;
  const closing = async (id: string) => (await maren.client(getSent, { params: { id } })).handling.closesAt.getTime();
  expect(await closing(counted.id)).toBeGreaterThan(now + 16 * day);
  expect(await closing(named.id)).toBe(now + 5 * day);
  await maren.client(releaseApi.takeReleaseBack, { params: { id: passed.id } });
});

test('what was looked at can’t be changed or thrown away while it waits', async () => {
  const { id, contentBlobId } = await asked();
  const { deleteBlob, putPart } = await import('@under-lock/contract/blob');
  await maren.client(deleteBlob, { params: { id: contentBlobId } });
  expect(
    await codeOf(maren.client(putPart, { params: { id: contentBlobId, index: 0 }, body: randomBytes(10) })),
  ).not.toBeUndefined();
  expect((await admin.client(releaseApi.getReleasePart, { params: { id, index: 0 } })).length).toBeGreaterThan(0);
  await letGo(admin, id);
});

test('who may decide and who waits are told by mail, once, and not what it is about', async () => {
  await tellOfReleases(house.server.context);
  const [askedBefore, endedBefore] = [mailsTo(admin.account.address).length, mailsTo(maren.account.address).length];
  const { id } = await asked();
  for (let time = 0; time < 2; time++) await tellOfReleases(house.server.context);
  const mails = mailsTo(admin.account.address).slice(askedBefore);
  expect(mails).toHaveLength(1);
  const { subject, text } = await PostalMime.parse(Buffer.from(mails[0]!.raw, 'base64'));
  expect(subject).toBe(`A message from ${maren.account.name} waits for release`);
  expect(text).toContain('“Pay lists”');
  expect(text).toContain(`/mail/waiting/${id}`);
  expect(text).not.toContain('Fitness');
  await letGo(admin, id);
  for (let time = 0; time < 2; time++) await tellOfReleases(house.server.context);
  const ended = mailsTo(maren.account.address).slice(endedBefore);
  expect(ended).toHaveLength(1);
  expect((await PostalMime.parse(Buffer.from(ended[0]!.raw, 'base64'))).subject).toBe('Your message has been released');
});

test('what nobody decides for two weeks goes back by itself', async () => {
  const { id } = await asked({ closesAt: new Date(Date.now() + 60 * 86_400_000) });
  setClock(Date.now() + 15 * 86_400_000);
  await endWaiting(house.server.context);
  house.clock.real = true;
  const [back] = (await maren.client(releaseApi.listReleases)).own;
  expect(back).toMatchObject({ id, state: 'sent-back' });
  expect(back!.by).toBeUndefined();
  await maren.client(releaseApi.takeReleaseBack, { params: { id } });
});

test('the database alone says neither what waits nor why it came back', async () => {
  const { id, dispatch } = await asked();
  const [row] = await rows<{ all: string }>(
    house.server.context.db,
    `SELECT encode(coalesce(body, '') || coalesce(paper, '') || summary, 'hex') AS all FROM releases WHERE id = $1`,
    [id],
  );
  const hex = (text: string): string => Buffer.from(text).toString('hex');
  const [grant] = dispatch.grants;
  for (const secret of [
    hex('The yard asked'),
    hex('pell.anders'),
    hex('+447700900417'),
    Buffer.from(grant!.readerShare).toString('hex'),
    hex(toBase64Url(grant!.readerShare)),
    hex(toBase64Url(grant!.houseShare)),
  ])
    expect(row!.all).not.toContain(secret);
  await run(house.server.context.db, 'DELETE FROM releases WHERE id = $1', [id]);
  expect(fromBase64Url(toBase64Url(grant!.houseShare))).toHaveLength(32);
});
