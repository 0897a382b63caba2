/**
 * Fills an empty database with the demo: Larkmoor Ferries, a co-operative that runs boats between islands. Everything
 * is made up. What a browser
 * would do is done here with the same core: the passwords are stretched, the vaults sealed, the messages split, so
 * that the demo is real.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PART_BYTES, partCount } from '@under-lock/contract/blob';
import { vaultKind } from '@under-lock/contract/vault';
import { randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { passwordKeys, RECOMMENDED_HASHING } from '@under-lock/core/account/password';
import { makeRecoveryCode, readRecoveryCode, recoveryKeys } from '@under-lock/core/account/recovery';
import { makeReaderAccount } from '@under-lock/core/account/reader-account';
import { makeAccountSecret, vaultKey, wrapSecret } from '@under-lock/core/account/secret';
import { resolveClosing } from '@under-lock/core/handling/closing';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { type PresetTerms, termsOfPreset } from '@under-lock/core/handling/preset';
import { outgoingGrant } from '@under-lock/core/outgoing/dispatch';
import { type Summary } from '@under-lock/core/outgoing/draft';
import { splitFor } from '@under-lock/core/outgoing/split';
import { type WantedReader } from '@under-lock/core/locks/wanted';
import { sealForRoom } from '@under-lock/core/locks/room/seal';
import { type MessageFile } from '@under-lock/core/message/content';
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { makeKeyPair, type PublicKey } from '@under-lock/core/account/key-pair';
import { wordsOf } from '@under-lock/core/search/words';
import { sealItem } from '@under-lock/core/vault/item';
import { briefMemory } from '@under-lock/core/vault/memory';
import { createShelf, type Shelf } from '@under-lock/core/vault/shelf';
import { keepAccountKey } from '../account/key';
import { endSessions } from '../account/session';
import { logged } from '../log/log';
import { putPreset, setDefaultPreset } from '../handling/preset';
import { sealedBytes } from '../account/credentials';
import { invite, invitedAccount, setUp, storedPassword } from '../account/account';
import { seedBook } from './book';
import { addSlot } from '../slot/slots';
import { seedRules } from './rules';
import { ownBlob, putPart, startBlob } from '../blob/blob';
import { type Context } from '../context';
import { run } from '../data/database';
import { AccountRow, GrantRow, OutboxRow, ReaderRow } from '../data/models';
import { deliverNotice } from '../outgoing/deliver';
import { dispatchMessage } from '../outgoing/dispatch';
import { endGrants, record } from '../access/grants';
import { dropItem, getItem, listItems, putItem, putManifest } from '../vault/vault';

export interface DemoSignIn {
  address: string;
  password: string;
  recoveryCode: string;
  name: string;
}

interface Worker {
  account: AccountRow;
  key: CryptoKey;
  pair: PublicKey;
}

/** Where the three work, in their order. */
const DEPARTMENTS = ['Crew office', 'Pay office', 'Compliance'];

const DAY = 86_400_000;
const HOUR = 3_600_000;

const staff = [
  {
    local: 'maren.oduya',
    name: 'Maren Oduya',
    title: 'Crew records',
    role: 'worker',
    password: 'tide table on the pier',
    phone: '+447700900101',
  },
  {
    local: 'tobias.quill',
    name: 'Tobias Quill',
    title: 'Payroll',
    role: 'worker',
    password: 'seven knots by lantern',
    phone: '+447700900102',
  },
  {
    local: 'ines.varga',
    name: 'Ines Varga',
    title: 'Compliance',
    role: 'administrator',
    password: 'harbour ledger in ink',
    phone: '+447700900103',
  },
] as const;

const closed = { closing: false, identity: false, rights: false };
const presets = {
  everyday: {
    name: 'Everyday papers',
    sentence:
      'For timetables, orders and forms that must not lie about in mailboxes; the reader may keep them and pass them on, and gets a copy of their own where they have a certificate or a key.',
    terms: {
      closing: { kind: 'two-weeks' },
      check: 'text',
      question: false,
      rights: { reply: true, replyAll: true, forward: true, print: true, copy: true, save: true },
      watermark: false,
      copies: true,
      clear: false,
      textOpen: true,
      audience: 'anyone',
      receipt: false,
      choose: true,
      remindHours: 0,
      mayLoosen: { closing: true, identity: true, rights: false },
    },
  },
  health: {
    name: 'Crew health',
    sentence: 'For fitness and medical papers: read and answered, never saved or passed on; closes within two weeks.',
    terms: {
      closing: { kind: 'two-weeks' },
      check: 'text',
      question: false,
      rights: { ...NO_RIGHTS, reply: true, copy: true },
      watermark: false,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'anyone',
      receipt: true,
      remindHours: 48,
      mayLoosen: closed,
    },
  },
  accident: {
    name: 'Accident file',
    sentence:
      'For reports that several firms work on: replies go to all, paper copies are allowed and carry a watermark.',
    terms: {
      closing: { kind: 'end-of-quarter' },
      check: 'text',
      question: false,
      rights: { ...NO_RIGHTS, reply: true, replyAll: true, print: true, copy: true },
      watermark: true,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'anyone',
      receipt: false,
      confirm: true,
      remindHours: 0,
      mayLoosen: { ...closed, closing: true },
    },
  },
  pay: {
    name: 'Pay and bank details',
    sentence: 'For anything with an account number: a passcode and a question only the two of you can answer.',
    terms: {
      closing: { kind: 'end-of-week' },
      check: 'voice',
      question: true,
      rights: { ...NO_RIGHTS, reply: true },
      watermark: true,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'outsiders',
      receipt: false,
      remindHours: 0,
      mayLoosen: closed,
    },
  },
  public: {
    name: 'Public notice',
    sentence:
      'For timetables, tenders and answers to the press: nothing secret. It leaves as ordinary mail with your signature, and anybody can read it.',
    terms: {
      closing: { kind: 'two-weeks' },
      check: 'question',
      question: false,
      rights: { reply: true, replyAll: true, forward: true, print: true, copy: true, save: true },
      watermark: false,
      copies: false,
      clear: true,
      textOpen: false,
      audience: 'anyone',
      receipt: false,
      remindHours: 0,
      mayLoosen: closed,
    },
  },
  staff: {
    name: 'Inside the house',
    sentence: 'For what stays among colleagues: nobody outside can be written to, and it can only be looked at.',
    terms: {
      closing: { kind: 'end-of-month' },
      check: 'question',
      question: false,
      rights: { ...NO_RIGHTS, reply: true },
      watermark: true,
      copies: false,
      clear: false,
      textOpen: false,
      audience: 'staff',
      receipt: false,
      remindHours: 0,
      mayLoosen: { ...closed, closing: true },
    },
  },
} satisfies Record<string, { name: string; sentence: string; terms: PresetTerms }>;
type PresetName = keyof typeof presets;

const people = {
  pell: {
    name: 'Pell Anders',
    address: 'pell.anders@postbox.example',
    phone: '+447700900417',
    secondAddress: 'p.anders@islandmail.example',
  },
  yard: { name: 'Saltmarsh Yard', address: 'office@saltmarsh.example', phone: '+447700900262' },
  clinic: { name: 'Dr Aune, Harbour Clinic', address: 'records@harbourclinic.example', phone: '+447700900355' },
  northquay: { name: 'Northquay claims', address: 'claims@northquay.example', phone: '+447700900348' },
  agent: { name: 'Former agent', address: 'moved-away@northquay.example', phone: '+447700900390' },
  surveyor: { name: 'Mira Talvik, surveyor', address: 'mira.talvik@saltmarsh.example', phone: '+447700900376' },
} as const;

const READER_PASSWORD = 'seven lanterns at low tide';

/** Somebody outside who has set a password at an earlier visit. */
async function makeReader(
  context: Context,
  { name, address }: Correspondent,
  password: string,
): Promise<RegisteredRecipient> {
  const {
    account: { id, key, password: kept },
  } = await makeReaderAccount(randomUUID(), password);
  await ReaderRow.create({
    id,
    address,
    addressKey: addressKey(address),
    name,
    language: 'en',
    ...(await storedPassword(context, 'reader', id, kept)),
    publicKey: Buffer.from(key.publicKey),
    keySuite: key.suite,
    sealedPrivateKey: await sealedBytes(context, 'reader', id, 'private-key', key.sealedPrivateKey),
    knownBy: 'text',
    since: new Date(context.clock().getTime() - 20 * DAY),
  });
  return { readerId: id, key };
}

async function makeWorker(
  context: Context,
  one: (typeof staff)[number],
): Promise<{ worker: Worker; signIn: DemoSignIn }> {
  const address = `${one.local}@${context.config.office.mailDomain}`;
  const { token } = await invite(context, { address, name: one.name, title: one.title, role: one.role });
  const tokenBytes = new Uint8Array(Buffer.from(token, 'base64url'));
  const invited = await invitedAccount(context, tokenBytes);
  const secret = makeAccountSecret();
  const hashing = { ...RECOMMENDED_HASHING, salt: randomBytes(16) };
  const keys = await passwordKeys(one.password, hashing);
  const recoveryCode = await makeRecoveryCode();
  const recovery = await recoveryKeys(await readRecoveryCode(recoveryCode));
  const { account } = await setUp(context, {
    token: tokenBytes,
    device: 'Demo',
    phone: one.phone,
    password: { hashing, authKey: keys.authKey, wrappedSecret: await wrapSecret(keys.unlockKey, secret, invited.id) },
    recovery: { authKey: recovery.authKey, wrappedSecret: await wrapSecret(recovery.unlockKey, secret, invited.id) },
  });
  await endSessions(context, account.id);
  const key = await vaultKey(secret);
  const pair = await makeKeyPair();
  await keepAccountKey(context, account, {
    ...pair,
    sealedPrivateKey: await sealItem(key, 'account-key', account.id, {
      suite: pair.suite,
      privateKey: toBase64Url(pair.privateKey),
    }),
  });
  return {
    worker: { account: await account.reload(), key, pair },
    signIn: { address, password: one.password, recoveryCode, name: one.name },
  };
}

/** The vault as the worker's own browser would have filled it. */
function shelfOf(context: Context, { account, key }: Worker): Shelf {
  return createShelf({
    key: async () => key,
    memory: briefMemory(),
    door: {
      list: (kind) => listItems(context, account.id, kind, {}),
      read: (kind, id) => getItem(context, account.id, kind, id),
      put: async (kind, id, change) =>
        void (await putItem(context, { accountId: account.id, kind: vaultKind.parse(kind), id, ...change })),
      drop: (kind, id, manifest) =>
        dropItem(context, { accountId: account.id, kind: vaultKind.parse(kind), id, manifest }),
      putManifest: (kind, manifest) => putManifest(context, account.id, kind, manifest),
      isBehind: () => false,
    },
  });
}

interface RegisteredRecipient {
  readerId: string;
  key: PublicKey;
}

export interface DemoMessage {
  subject: string;
  reference: string;
  text: string;
  html?: string;
  files?: MessageFile[];
  to: (Correspondent & { phone: string; account?: RegisteredRecipient })[];
  preset: PresetName;
  closesAt: Date;
  /** How long ago it was sent. */
  ago: number;
  /** False when the running server is to tell them, and so to meet what comes back. */
  told?: boolean;
}

const publicKeyOf = ({ suite, publicKey }: PublicKey): PublicKey => ({ suite, publicKey });

async function sendDemo(
  context: Context,
  { account, key }: Worker,
  demo: DemoMessage,
  presetIds: Record<PresetName, string>,
  colleague?: Worker,
): Promise<GrantRow[]> {
  const now = context.clock();
  const id = randomUUID();
  const contentBlobId = randomUUID();
  const contentKey = { key: randomBytes(32), salt: randomBytes(32) };
  const sentAt = new Date(now.getTime() - demo.ago);
  const mailId = `${randomUUID()}@${context.config.office.mailDomain}`;
  const kept = { key: toBase64Url(contentKey.key), salt: toBase64Url(contentKey.salt) };
  const readerOf = ({ phone, account: own }: DemoMessage['to'][number]): WantedReader =>
    own !== undefined
      ? { kind: 'registered', readerId: own.readerId, ...publicKeyOf(own.key) }
      : colleague === undefined
        ? { kind: 'link', check: 'text', target: phone }
        : { kind: 'account', accountId: colleague.account.id, ...publicKeyOf(colleague.pair) };
  const grants = await splitFor(
    { messageId: id, subject: demo.subject },
    kept,
    demo.to.map((one) => ({ address: one.address, name: one.name, role: 'to', reader: readerOf(one) })),
    randomUUID,
  );
  const content = await sealForRoom(
    {
      messageId: mailId,
      from: { name: account.name, address: account.address },
      to: demo.to,
      cc: [],
      subject: demo.subject,
      date: sentAt,
      reference: demo.reference,
      text: demo.text,
      html: demo.html ?? '',
      files: demo.files ?? [],
    },
    contentKey,
  );
  await startBlob(context, account.id, contentBlobId, content.length);
  for (let index = 0; index < partCount(content.length); index++) {
    await putPart(
      context,
      await ownBlob(account.id, contentBlobId),
      index,
      content.subarray(index * PART_BYTES, (index + 1) * PART_BYTES),
    );
  }
  const summary: Summary = {
    subject: demo.subject,
    mailId,
    key: kept,
    files: (demo.files ?? []).map(({ name, bytes }) => ({ name, size: bytes.length })),
    links: Object.fromEntries(grants.map((grant) => [grant.id, grant.readerShare])),
  };
  const { closing: _, ...terms } = termsOfPreset(presets[demo.preset].terms);
  await dispatchMessage(context, account, {
    id,
    contentBlobId,
    reference: demo.reference,
    handling: { closesAt: demo.closesAt, ...terms },
    presetId: presetIds[demo.preset],
    summary: await sealItem(key, 'sent', id, summary),
    words: await sealItem(key, 'words', id, wordsOf({ text: demo.text, files: demo.files ?? [] })),
    grants: grants.map(outgoingGrant),
  });
  // The demo has a past: what was sent days ago says so.
  await run(context.db, 'UPDATE messages SET sent_at = $2 WHERE id = $1', [id, sentAt]);
  await run(context.db, 'UPDATE events SET at = $2 WHERE message_id = $1', [id, sentAt]);
  await run(
    context.db,
    'UPDATE outbox SET created_at = $2 WHERE grant_id IN (SELECT id FROM grants WHERE message_id = $1)',
    [id, sentAt],
  );
  await run(
    context.db,
    'UPDATE grants SET arrived_at = $2, notice_at = $2 WHERE message_id = $1 AND arrived_at IS NOT NULL',
    [id, sentAt],
  );
  if (demo.told !== false) await tell({ ...context, clock: () => new Date(sentAt.getTime() + 40_000) }, id);
  return GrantRow.findAll({ where: { messageId: id }, order: ['position'] });
}

/** Has the outside world take the notices of a message, in the demo's past. */
async function tell(then: Context, messageId: string): Promise<void> {
  for (const { id } of await OutboxRow.findAll({
    where: { grantId: (await GrantRow.findAll({ where: { messageId } })).map((grant) => grant.id) },
  }))
    await deliverNotice(then, id);
}

async function opened(
  context: Context,
  grant: GrantRow,
  times: number,
  firstAgo: number,
  lastAgo: number,
): Promise<void> {
  const now = context.clock().getTime();
  await grant.update({
    openCount: times,
    firstOpenedAt: new Date(now - firstAgo),
    lastOpenedAt: new Date(now - lastAgo),
  });
  for (const ago of times === 1 ? [firstAgo] : [firstAgo, lastAgo]) {
    await record(
      { ...context, clock: () => new Date(now - ago) },
      { messageId: grant.messageId, grantId: grant.id, kind: 'opened' },
    );
  }
}

export async function isEmpty(): Promise<boolean> {
  return (await AccountRow.count()) === 0;
}

/** What else may be filled in, in the name of one of its people. */
export interface Filling {
  account: AccountRow;
  shelf: Shelf;
  /** Under the preset for everyday papers. */
  send(demo: Omit<DemoMessage, 'preset'>): Promise<GrantRow[]>;
}

/**
 * Resolves with what to print. `papers` is the folder of the demo's files; `also` fills in more in Tobias Quill's name.
 */
export async function seedDemo(
  context: Context,
  papers: string,
  also?: (filling: Filling) => Promise<void>,
): Promise<{ signIns: DemoSignIn[]; invitation: string; reader: { address: string; password: string; list: string } }> {
  const made = [];
  for (const one of staff) made.push(await makeWorker(context, one));
  const [maren, tobias] = [made[0]!.worker, made[1]!.worker];
  const presetIds = Object.fromEntries(Object.keys(presets).map((name) => [name, randomUUID()])) as Record<
    PresetName,
    string
  >;
  // The demo's office has long been set up.
  for (const [kind, about] of [
    ['mail-tried', { outcome: 'accepted', answer: '250 taken' }],
    ['records-published', {}],
  ] as const)
    await logged(context, { kind, actor: { kind: 'operator' }, about });
  for (const [name, preset] of Object.entries(presets))
    await putPreset(context, made[2]!.worker.account.id, presetIds[name as PresetName], { ...preset, active: true });
  await setDefaultPreset(context, made[2]!.worker.account.id, presetIds.everyday);
  const send = (demo: DemoMessage): Promise<GrantRow[]> => sendDemo(context, maren, demo, presetIds);
  const shelf = shelfOf(context, maren);
  for (const value of Object.values(people)) await shelf.keep('person', randomUUID(), 0, value);
  const now = context.clock();
  const { calendar } = context.config.office;
  const on = (days: number): Date => {
    const result = resolveClosing(
      { kind: 'exact', local: `${new Date(now.getTime() + days * DAY).toISOString().slice(0, 10)}T17:00` },
      now,
      calendar,
    );
    return result.ok ? result.closesAt : new Date(now.getTime() + days * DAY);
  };
  const file = (name: string, type: string): MessageFile => ({
    name,
    type,
    bytes: new Uint8Array(readFileSync(join(papers, name))),
  });

  await send({
    preset: 'health',
    subject: 'Fitness papers before the winter season',
    reference: 'CR-2611-187',
    ago: 4 * DAY,
    closesAt: on(2),
    to: [people.pell],
    text: 'Dear Pell,\n\nyour papers for the winter season are attached. Please look at page two and tell me by Friday whether the restriction stays.\n\nWith kind regards\nMaren Oduya, crew records',
    files: [file('fitness-2026.pdf', 'application/pdf'), file('eyesight.jpg', 'image/jpeg')],
  });
  const report = await send({
    preset: 'accident',
    subject: 'Accident report MV Teal',
    reference: 'AR-2611-009',
    ago: DAY + 2 * HOUR,
    closesAt: on(9),
    to: [people.northquay, people.yard, people.clinic],
    text: 'The report of the accident on board MV Teal on 14 November, as agreed. It names two people; please keep it to those who work on the case.\n\nMaren Oduya',
    html: '<p>The report of the accident on board <strong>MV Teal</strong> on 14 November, as agreed.</p><p>It names two people; please keep it to those who work on the case.</p><p>Maren Oduya</p>',
  });
  await opened(context, report[0]!, 3, DAY, 2 * HOUR);
  await report[1]!.update({
    wrongTries: 5,
    passcodePauses: 1,
    passcodePausedUntil: new Date(now.getTime() + 40 * 60_000),
  });
  await record(
    { ...context, clock: () => new Date(now.getTime() - 20 * 60_000) },
    { messageId: report[1]!.messageId, grantId: report[1]!.id, kind: 'passcode-paused' },
  );

  const crew = await send({
    preset: 'everyday',
    subject: 'Crew list, winter',
    reference: 'CR-2611-140',
    ago: 12 * DAY,
    closesAt: on(37),
    to: [people.clinic, people.northquay],
    text: 'The crew list for the winter timetable. Numbers as of 1 November.',
  });
  for (const grant of crew) await opened(context, grant, 1, 11 * DAY, 11 * DAY);
  await send({
    preset: 'everyday',
    subject: 'Handover of claims files',
    reference: '',
    ago: 6 * HOUR,
    told: false,
    closesAt: on(14),
    to: [people.agent],
    text: 'The list of open claims for the handover.',
  });
  const old = await send({
    preset: 'health',
    subject: 'Medical certificates, October',
    reference: 'CR-2610-077',
    ago: 30 * DAY,
    closesAt: on(1),
    to: [people.clinic],
    text: 'The certificates that expire in October.',
  });
  await opened(context, old[0]!, 1, 29 * DAY, 29 * DAY);
  await context.db.transaction((transaction) => endGrants(context, old, { state: 'withdrawn', at: now }, transaction));

  const { account } = maren;
  await sendDemo(
    context,
    tobias,
    {
      preset: 'staff',
      subject: 'Winter allowances, before they are announced',
      reference: 'PY-2611-031',
      ago: 3 * HOUR,
      closesAt: on(6),
      to: [{ name: account.name, address: account.address, phone: '' }],
      text: 'Maren,\n\nthe allowances for the winter timetable as the board agreed them. Please check the list of names for the night boats before Friday; it must not get round before the crews are told.\n\nTobias',
    },
    presetIds,
    maren,
  );

  const surveyor = { ...people.surveyor, account: await makeReader(context, people.surveyor, READER_PASSWORD) };
  const [survey] = await send({
    preset: 'everyday',
    subject: 'Hull survey MV Teal, the yard’s copy',
    reference: 'SV-2611-003',
    ago: 5 * DAY,
    closesAt: on(9),
    to: [surveyor],
    text: 'The survey of 12 November with the owner’s remarks. Frames 14 to 19 are on page two.',
    files: [file('fitness-2026.pdf', 'application/pdf')],
  });
  await opened(context, survey!, 2, 4 * DAY, 3 * DAY);
  await survey!.update({ unread: false });
  await send({
    preset: 'accident',
    subject: 'Photographs of the damage',
    reference: 'AR-2611-009',
    ago: 5 * HOUR,
    closesAt: on(5),
    to: [surveyor],
    text: 'The photographs that belong to the report.',
    files: [file('eyesight.jpg', 'image/jpeg')],
  });
  await sendDemo(
    context,
    tobias,
    {
      preset: 'everyday',
      subject: 'Travel costs, November',
      reference: 'PY-2611-018',
      ago: 2 * DAY,
      closesAt: on(12),
      to: [surveyor],
      text: 'Your travel costs as we have booked them.',
    },
    presetIds,
  );

  await also?.({
    account: tobias.account,
    shelf: shelfOf(context, tobias),
    send: (demo) => sendDemo(context, tobias, { ...demo, preset: 'everyday' }, presetIds),
  });

  await seedRules(context, made[2]!.worker.account, presetIds);
  for (const [index, department] of DEPARTMENTS.entries())
    // Everybody but who writes most of it may release what others wrote.
    await made[index]!.worker.account.update({ departments: [department], mayRelease: index > 0 });
  await seedBook(context, [made[2]!.worker, maren, tobias]);
  const behind = [made[2]!.worker.account.id, maren.account.id];
  await addSlot(context, made[2]!.worker.account, { kind: 'office', people: behind });
  const { token } = await invite(context, {
    address: `joss.amari@${context.config.office.mailDomain}`,
    name: 'Joss Amari',
    title: 'Deck office',
  });
  return {
    signIns: made.map(({ signIn }) => signIn),
    invitation: `${context.config.origin}${officePaths.setUp(token)}`,
    reader: {
      address: people.surveyor.address,
      password: READER_PASSWORD,
      list: `${context.config.roomOrigin}/room/list`,
    },
  };
}
