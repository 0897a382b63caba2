/** Readers who choose how they are written to: who is asked, what the server knows of it, and who takes it in. */
import * as choiceApi from '@under-lock/contract/choice';
import { type Client } from '@under-lock/contract/client';
import * as presetApi from '@under-lock/contract/handling';
import { dispatchMessage, listEvents, withdrawGrants } from '@under-lock/contract/outgoing';
import { openRoom } from '@under-lock/contract/room';
import * as bookApi from '@under-lock/contract/office-book';
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { isIssuedFor } from '@under-lock/core/certificate/verdict';
import { makeKeyPair as makeCertificateKey, makeRequest } from '@under-lock/core/certificate/make-key';
import { type TakeBack, takeBackFrom } from '@under-lock/core/choosing/link';
import { type Choice } from '@under-lock/core/choosing/choice';
import { CERTIFIED_A_DAY } from '@under-lock/core/choosing/limits';
import { openChoice, sealChoice } from '@under-lock/core/choosing/sealed';
import { makeOfficeKey, sealToMember } from '@under-lock/core/office-book/key';
import { randomBytes } from '@under-lock/core/bytes';
import { randomUUID } from 'node:crypto';
import { rows } from '../src/data/database';
import {
  codeOf,
  demoMessage,
  demoTerms,
  eventually,
  giveKeyPair,
  type House,
  identified,
  type KeyPair,
  openHouse,
  prepare,
  upload,
  type Worker,
} from './house';

let house: House;
let admin: Worker;
let maren: Worker;
let key: KeyPair;
let secret: Uint8Array<ArrayBuffer>;
const presets = { asked: randomUUID(), not: randomUUID() };

const terms = (choose: boolean) => ({
  ...demoTerms,
  closing: { kind: 'end-of-quarter' as const },
  audience: 'anyone' as const,
  receipt: false,
  remindHours: 0,
  mayLoosen: { closing: true, identity: true, rights: true },
  choose,
});

beforeAll(async () => {
  house = await openHouse();
  admin = await house.worker('ines.varga', 'administrator');
  maren = await house.worker('maren.oduya');
  key = await giveKeyPair(admin);
  for (const [name, choose] of [
    ['asked', true],
    ['not', false],
  ] as const)
    await admin.client(presetApi.putPreset, {
      params: { id: presets[name] },
      body: { name, sentence: 'x', terms: terms(choose), active: true },
    });
});
afterAll(() => house.stop());

/** Somebody who has opened what was sent to them under this preset. */
async function reader(
  address: string,
  preset: keyof typeof presets = 'asked',
): Promise<{ client: Client; id: string; messageId: string; choose: boolean }> {
  const prepared = await prepare(demoMessage({ files: [] }), { addresses: [address] });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  await maren.client(dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, presetId: presets[preset] },
  });
  const [grant] = prepared.dispatch.grants;
  const client = await identified(house, grant!);
  const { choose } = await client(openRoom, { params: { id: grant!.id } });
  return { client, id: grant!.id, messageId: prepared.id, choose };
}

async function begin(): Promise<void> {
  const made = await makeOfficeKey();
  secret = made.secret;
  await admin.client(bookApi.beginOfficeBook, {
    body: {
      suite: made.suite,
      publicKey: made.publicKey,
      sealedKey: await sealToMember(key, secret, 1, admin.account.id),
    },
  });
}

const look = ({ client, id }: Awaited<ReturnType<typeof reader>>) => client(choiceApi.getChoosing, { params: { id } });

async function choose(who: Awaited<ReturnType<typeof reader>>, choice: Choice, over: object = {}) {
  const { office } = await look(who);
  const number = randomUUID();
  return who.client(choiceApi.putChoice, {
    params: { id: who.id },
    body: {
      id: number,
      epoch: office.epoch,
      way: choice.way,
      language: 'de',
      sealed: await sealChoice(office, office.epoch, number, choice),
      ...over,
    },
  });
}
/** Its one part is in base64, as the whole is once more. */
const textOf = (raw: string): string => {
  const mail = Buffer.from(raw, 'base64').toString();
  return mail + Buffer.from(mail.split('\r\n\r\n')[1] ?? '', 'base64').toString();
};
const waiting = (worker = admin) => worker.client(choiceApi.listChoices, {});
const file: Choice = { way: 'file', container: 'pdf', password: 'seven lamps over the ford', guesses: 15 };

test('nobody is asked while the office keeps no book, nor under a preset that does not ask', async () => {
  const early = await reader('lene@postbox.example');
  expect(early.choose).toBe(false);
  expect(await codeOf(look(early))).toBe('conflict');
  await begin();
  const other = await reader('lene@postbox.example', 'not');
  expect(other.choose).toBe(false);
  expect(await codeOf(look(other))).toBe('conflict');
  expect((await reader('lene@postbox.example')).choose).toBe(true);
});

test('a choice comes to members only, sealed, with the check it was made under; taken in it is wiped, and told by mail', async () => {
  const lene = await reader('Lene@postbox.example');
  expect(await look(lene)).toMatchObject({ address: 'Lene@postbox.example', office: { epoch: 1 } });
  const { at } = await choose(lene, file);
  expect((await look(lene)).chosen).toEqual({ way: 'file', at });
  const {
    choices: [one],
  } = await waiting();
  expect(one).toMatchObject({
    address: 'Lene@postbox.example',
    way: 'file',
    check: 'text',
    language: 'de',
    epoch: 1,
    at,
  });
  expect(await openChoice(secret, 1, one!.id, one!.sealed)).toEqual(file);
  expect(await codeOf(waiting(maren))).toBe('not-member');
  expect(await codeOf(maren.client(choiceApi.settleChoice, { params: { id: one!.id }, body: {} }))).toBe('not-member');
  const { events } = await maren.client(listEvents, { params: { id: lene.messageId }, query: {} });
  expect(events.map(({ kind }) => kind)).toContain('chose');
  const told = await eventually(() =>
    house.world.store.mails.find(
      ({ mailbox, raw }) => mailbox === 'lene@postbox.example' && /Im Leseraum von/.test(textOf(raw)),
    ),
  );
  expect(told).toBeDefined();

  await admin.client(choiceApi.settleChoice, { params: { id: one!.id }, body: {} });
  expect((await waiting()).choices).toEqual([]);
  expect(await codeOf(admin.client(choiceApi.settleChoice, { params: { id: one!.id }, body: {} }))).toBe('not-found');
  const [kept] = await rows<{ sealed: Buffer | null }>(house.server.context.db, 'SELECT sealed FROM choices', []);
  expect(kept!.sealed).toBeNull();
  // The later one takes the place of the earlier, also from another message.
  const again = await reader('lene@POSTBOX.example');
  await choose(again, { way: 'none' });
  expect((await look(lene)).chosen).toBeUndefined();
  expect((await waiting()).choices).toHaveLength(1);
});

/** From the newest mail that tells of a choice. */
const linkIn = (mailbox: string): Promise<TakeBack> =>
  eventually(() => {
    const links = house.world.store.mails
      .filter((mail) => mail.mailbox === mailbox)
      .flatMap(({ raw }) => /http:\S+\/room\/choice\/\S+/.exec(textOf(raw))?.[0] ?? []);
    const found = takeBackFrom(new URL(links.at(-1) ?? 'http://nowhere.example/'));
    return found === 'broken' ? undefined : found;
  });

test('a choice is taken back by the link in the mail that told of it: by nobody else, once, and by a press only', async () => {
  const visitor = house.visitor();
  const atLink = ({ id, token }: TakeBack) => visitor(choiceApi.lookAtChoice, { params: { id }, body: { token } });
  const back = ({ id, token }: TakeBack) => visitor(choiceApi.takeChoiceBack, { params: { id }, body: { token } });
  const ivar = await reader('ivar@postbox.example');
  const { at } = await choose(ivar, file);
  const link = await linkIn('ivar@postbox.example');
  const other = { ...link, token: link.token.map((octet) => octet ^ 1) };
  for (const wrong of [other, { ...link, id: randomUUID() }]) {
    expect(await codeOf(atLink(wrong))).toBe('wrong-link');
    expect(await codeOf(back(wrong))).toBe('wrong-link');
  }
  expect((await atLink(link)).chosen).toEqual({ way: 'file', at });
  expect((await look(ivar)).chosen).toEqual({ way: 'file', at });
  await back(link);
  expect((await look(ivar)).chosen).toBeUndefined();
  expect(await codeOf(atLink(link))).toBe('wrong-link');
  expect(await codeOf(back(link))).toBe('wrong-link');
  const { choices } = await waiting();
  const [taken] = choices.filter(({ address }) => address === 'ivar@postbox.example');
  expect(taken!.way).toBe('none');
  expect(await openChoice(secret, taken!.epoch, taken!.id, taken!.sealed)).toEqual({ way: 'none' });
  // Told as well, and with nothing left to take back.
  const told = await eventually(() => {
    const mails = house.world.store.mails.filter(
      ({ mailbox, raw }) => mailbox === 'ivar@postbox.example' && /Im Leseraum von/.test(textOf(raw)),
    );
    return mails.length === 2 ? mails : undefined;
  });
  expect(textOf(told.at(-1)!.raw)).not.toContain('/room/choice/');

  // A later choice takes the place of an earlier one, with its link.
  await choose(ivar, file);
  const first = await linkIn('ivar@postbox.example');
  await choose(ivar, { way: 'room' });
  expect(await codeOf(back(first))).toBe('wrong-link');
  expect((await look(ivar)).chosen?.way).toBe('room');
});

test('what a reader says of themselves is not believed: another’s message, no session, an old key, withdrawn', async () => {
  const [lene, ask] = [await reader('lene@postbox.example'), await reader('ask@postbox.example')];
  expect(await codeOf(lene.client(choiceApi.getChoosing, { params: { id: ask.id } }))).toBe('not-identified');
  expect(await codeOf(house.visitor()(choiceApi.getChoosing, { params: { id: ask.id } }))).toBe('not-identified');
  expect(await codeOf(choose(ask, file, { epoch: 2 }))).toBe('key-renewed');
  await maren.client(withdrawGrants, {
    params: { id: ask.messageId },
    body: { grantIds: [ask.id] },
  });
  expect(await codeOf(look(ask))).toBe('not-identified');
});

test('somebody who tells us a new choice every moment is slowed down', async () => {
  const busy = await reader('busy@postbox.example');
  const codes = [];
  for (let tries = 0; tries < 13; tries++) codes.push(await codeOf(choose(busy, { way: 'room' })));
  expect(codes).toContain('too-many-tries');
  expect(codes.slice(0, 10)).toEqual(Array.from({ length: 10 }, () => 'done'));
});

test('members are told which of the book gave a certificate or key, until they choose anew', async () => {
  const givers = (worker = admin) => worker.client(choiceApi.listKeyGivers, {});
  const given = async (address: string, way: 'certificate' | 'openpgp' | 'file') => {
    const who = await reader(address);
    await choose(who, file, { way });
    const person = randomUUID();
    const { id } = (await waiting()).choices.find((one) => one.address === address)!;
    await admin.client(choiceApi.settleChoice, { params: { id }, body: { keptAs: person } });
    return { who, person };
  };
  const before = (await givers()).people;
  const first = await given('asa@postbox.example', 'certificate');
  const second = await given('ove@postbox.example', 'openpgp');
  await given('una@postbox.example', 'file');
  expect((await givers()).people).toEqual([second.person, first.person, ...before]);
  expect(await codeOf(givers(maren))).toBe('not-member');
  await choose(second.who, { way: 'room' });
  expect((await givers()).people).toEqual([first.person, ...before]);
});

test('a renewal is not finished over a choice that only the old key opens', async () => {
  const lene = await reader('lene@postbox.example');
  await choose(lene, file);
  const made = await makeOfficeKey();
  const renewal = {
    key: { suite: made.suite, publicKey: made.publicKey },
    members: [{ id: admin.account.id, sealedKey: await sealToMember(key, made.secret, 2, admin.account.id) }],
    kinds: [],
  };
  expect(await codeOf(bookApi.renewInParts(admin.client, 1, renewal))).toBe('manifest-behind');
  for (const { id } of (await waiting()).choices)
    await admin.client(choiceApi.settleChoice, { params: { id }, body: {} });
  await bookApi.renewInParts(admin.client, 1, renewal);
  expect((await look(lene)).office).toMatchObject({ epoch: 2 });
});

describe('a certificate for a reader', () => {
  const request = async (...addresses: string[]) =>
    makeRequest(await makeCertificateKey('p-256'), { name: 'Runa Falk', addresses });
  const certify = ({ client, id }: Awaited<ReturnType<typeof reader>>, body: { request: Uint8Array }) =>
    client(choiceApi.certifyReader, { params: { id }, body: body as { request: Uint8Array<ArrayBuffer> } });

  test('is made for the address that the message went to, and for no other', async () => {
    const runa = await reader('runa@postbox.example');
    for (const wrong of [
      await request('maren.oduya@larkmoor.example'),
      await request('runa@postbox.example', 'ines.varga@larkmoor.example'),
      randomBytes(200),
    ])
      expect(await codeOf(certify(runa, { request: wrong }))).toBe('invalid-input');
    const { certificate, chain } = await certify(runa, { request: await request('runa@postbox.example') });
    expect(isIssuedFor(readCertificate(certificate), 'runa@postbox.example')).toBe(true);
    expect(chain.length).toBeGreaterThan(0);
    const [row] = await rows<{ address_key: string }>(
      house.server.context.db,
      'SELECT address_key FROM reader_certificates',
      [],
    );
    expect(row!.address_key).toBe('runa@postbox.example');
  });

  test('and only so often in a day', async () => {
    const often = await reader('often@postbox.example');
    for (let times = 0; times < CERTIFIED_A_DAY; times++)
      await certify(often, { request: await request('often@postbox.example') });
    expect(await codeOf(certify(often, { request: await request('often@postbox.example') }))).toBe('too-many-tries');
  });
});
