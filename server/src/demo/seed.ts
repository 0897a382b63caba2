/**
 * Fills an empty database with the demo: Larkmoor Ferries, a co-operative that runs boats between islands. Everything is made up. What a browser
 * would do is done here with the same core: the passwords are stretched, the vaults sealed, the messages split, so that the demo is real.
 */
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PART_BYTES, partCount } from '@under-lock/contract/blob';
import { type Bytes, randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { passwordKeys, RECOMMENDED_HASHING } from '@under-lock/core/account/password';
import { makeRecoveryCode, readRecoveryCode, recoveryKeys } from '@under-lock/core/account/recovery';
import { makeAccountSecret, vaultKey, wrapSecret } from '@under-lock/core/account/secret';
import { resolveClosing } from '@under-lock/core/handling/closing';
import { roomLock } from '@under-lock/core/locks/room/index';
import { type MessageFile } from '@under-lock/core/message/content';
import { type Correspondent } from '@under-lock/core/people/address';
import { sealItem } from '@under-lock/core/vault/item';
import { invite, invitedAccount, setUp } from '../account/account';
import { putPart, startBlob } from '../blob/blob';
import { type Context } from '../context';
import { run } from '../data/database';
import { AccountRow, GrantRow, OutboxRow } from '../data/models';
import { deliverNotice } from '../message/deliver';
import { dispatchMessage } from '../message/dispatch';
import { endGrants, record } from '../message/grants';
import { putItem } from '../vault/vault';

export interface DemoSignIn { address: string; password: string; recoveryCode: string; name: string }

interface Worker { account: AccountRow; key: CryptoKey }

const DAY = 86_400_000;
const HOUR = 3_600_000;

const staff = [
  { local: 'maren.oduya', name: 'Maren Oduya', title: 'Crew records', role: 'worker', password: 'tide table on the pier', phone: '+447700900101' },
  { local: 'tobias.quill', name: 'Tobias Quill', title: 'Payroll', role: 'worker', password: 'seven knots by lantern', phone: '+447700900102' },
  { local: 'ines.varga', name: 'Ines Varga', title: 'Compliance', role: 'administrator', password: 'harbour ledger in ink', phone: '+447700900103' },
] as const;

const people = {
  pell: { name: 'Pell Anders', address: 'pell.anders@postbox.example', phone: '+447700900417', secondAddress: 'p.anders@islandmail.example' },
  yard: { name: 'Saltmarsh Yard', address: 'office@saltmarsh.example', phone: '+447700900262' },
  clinic: { name: 'Dr Aune, Harbour Clinic', address: 'records@harbourclinic.example', phone: '+447700900355' },
  northquay: { name: 'Northquay claims', address: 'claims@northquay.example', phone: '+447700900348' },
  agent: { name: 'Former agent', address: 'moved-away@northquay.example', phone: '+447700900390' },
} as const;

async function makeWorker(context: Context, one: (typeof staff)[number]): Promise<{ worker: Worker; signIn: DemoSignIn }> {
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
  await run(context.db, 'DELETE FROM sessions WHERE account_id = $1', [account.id]);
  return { worker: { account, key: await vaultKey(secret) }, signIn: { address, password: one.password, recoveryCode, name: one.name } };
}

interface DemoMessage {
  subject: string;
  reference: string;
  text: string;
  html?: string;
  files?: MessageFile[];
  to: (Correspondent & { phone: string })[];
  closesAt: Date;
  /** How long ago it was sent. */
  ago: number;
  /** False when the running server is to tell them, and so to meet what comes back. */
  told?: boolean;
}

async function sendDemo(context: Context, { account, key }: Worker, demo: DemoMessage): Promise<GrantRow[]> {
  const now = context.clock();
  const id = randomUUID();
  const contentBlobId = randomUUID();
  const contentKey = { key: randomBytes(32), salt: randomBytes(32) };
  const sentAt = new Date(now.getTime() - demo.ago);
  const mailId = `${randomUUID()}@${context.config.office.mailDomain}`;
  const recipients = demo.to.map((one) => ({ ...one, role: 'to' as const }));
  const [parcel] = await roomLock.seal(
    { messageId: mailId, from: { name: account.name, address: account.address }, to: demo.to, cc: [], subject: demo.subject, date: sentAt, reference: demo.reference, text: demo.text, html: demo.html ?? '', files: demo.files ?? [] },
    recipients,
    { messageId: id, contentKey, newId: randomUUID },
  );
  await startBlob(context, account.id, contentBlobId, parcel!.content.length);
  for (let index = 0; index < partCount(parcel!.content.length); index++) {
    await putPart(context, account.id, contentBlobId, index, parcel!.content.subarray(index * PART_BYTES, (index + 1) * PART_BYTES));
  }
  const text = (bytes: Bytes): string => toBase64Url(bytes);
  const summary = {
    subject: demo.subject, mailId, key: { key: text(contentKey.key), salt: text(contentKey.salt) }, files: (demo.files ?? []).map(({ name, bytes }) => ({ name, size: bytes.length })),
    links: Object.fromEntries(parcel!.grants.map(({ grantId, split }) => [grantId, text(split.readerShare)])),
  };
  await dispatchMessage(context, account, {
    id, contentBlobId, reference: demo.reference, handling: { closesAt: demo.closesAt, check: 'text', rights: { reply: true, save: false } }, summary: await sealItem(key, 'sent', id, summary),
    grants: parcel!.grants.map(({ address, grantId, split }, index) => ({
      id: grantId, address, name: recipients[index]!.name, role: 'to', channel: { kind: 'text', target: recipients[index]!.phone }, ...split.house, readerShare: split.readerShare,
    })),
  });
  // The demo has a past: what was sent days ago says so.
  await run(context.db, 'UPDATE messages SET sent_at = $2 WHERE id = $1', [id, sentAt]);
  await run(context.db, 'UPDATE events SET at = $2 WHERE message_id = $1', [id, sentAt]);
  if (demo.told !== false) await tell({ ...context, clock: () => new Date(sentAt.getTime() + 40_000) }, id);
  return GrantRow.findAll({ where: { messageId: id }, order: ['position'] });
}

/** Has the outside world take the notices of a message, in the demo's past. */
async function tell(then: Context, messageId: string): Promise<void> {
  for (const { id } of await OutboxRow.findAll({ where: { grantId: (await GrantRow.findAll({ where: { messageId } })).map((grant) => grant.id) } })) await deliverNotice(then, id);
}

async function opened(context: Context, grant: GrantRow, times: number, firstAgo: number, lastAgo: number): Promise<void> {
  const now = context.clock().getTime();
  await grant.update({ openCount: times, firstOpenedAt: new Date(now - firstAgo), lastOpenedAt: new Date(now - lastAgo) });
  for (const ago of times === 1 ? [firstAgo] : [firstAgo, lastAgo]) {
    await record({ ...context, clock: () => new Date(now - ago) }, { messageId: grant.messageId, grantId: grant.id, kind: 'opened' });
  }
}

export async function isEmpty(): Promise<boolean> {
  return (await AccountRow.count()) === 0;
}

/** Resolves with what to print. `papers` is the folder of the demo's files. */
export async function seedDemo(context: Context, papers: string): Promise<{ signIns: DemoSignIn[]; invitation: string }> {
  const made = [];
  for (const one of staff) made.push(await makeWorker(context, one));
  const maren = made[0]!.worker;
  for (const value of Object.values(people)) {
    const id = randomUUID();
    await putItem(context, { accountId: maren.account.id, kind: 'person', id, revision: 0, sealed: await sealItem(maren.key, 'person', id, value) });
  }
  const now = context.clock();
  const { calendar } = context.config.office;
  const on = (days: number): Date => {
    const result = resolveClosing({ kind: 'exact', local: `${new Date(now.getTime() + days * DAY).toISOString().slice(0, 10)}T17:00` }, now, calendar);
    return result.ok ? result.closesAt : new Date(now.getTime() + days * DAY);
  };
  const file = (name: string, type: string): MessageFile => ({ name, type, bytes: new Uint8Array(readFileSync(join(papers, name))) });

  await sendDemo(context, maren, {
    subject: 'Fitness papers before the winter season', reference: 'CR-2611-187', ago: 4 * DAY, closesAt: on(2), to: [people.pell],
    text: 'Dear Pell,\n\nyour papers for the winter season are attached. Please look at page two and tell me by Friday whether the restriction stays.\n\nWith kind regards\nMaren Oduya, crew records',
    files: [file('fitness-2026.pdf', 'application/pdf'), file('eyesight.jpg', 'image/jpeg')],
  });
  const report = await sendDemo(context, maren, {
    subject: 'Accident report MV Teal', reference: 'AR-2611-009', ago: DAY + 2 * HOUR, closesAt: on(9), to: [people.northquay, people.yard, people.clinic],
    text: 'The report of the accident on board MV Teal on 14 November, as agreed. It names two people; please keep it to those who work on the case.\n\nMaren Oduya',
    html: '<p>The report of the accident on board <strong>MV Teal</strong> on 14 November, as agreed.</p><p>It names two people; please keep it to those who work on the case.</p><p>Maren Oduya</p>',
  });
  await opened(context, report[0]!, 3, DAY, 2 * HOUR);
  await report[1]!.update({ wrongTries: 5, passcodePauses: 1, passcodePausedUntil: new Date(now.getTime() + 40 * 60_000) });
  await record({ ...context, clock: () => new Date(now.getTime() - 20 * 60_000) }, { messageId: report[1]!.messageId, grantId: report[1]!.id, kind: 'passcode-paused' });

  const crew = await sendDemo(context, maren, {
    subject: 'Crew list, winter', reference: 'CR-2611-140', ago: 12 * DAY, closesAt: on(37), to: [people.clinic, people.northquay], text: 'The crew list for the winter timetable. Numbers as of 1 November.',
  });
  for (const grant of crew) await opened(context, grant, 1, 11 * DAY, 11 * DAY);
  await sendDemo(context, maren, { subject: 'Handover of claims files', reference: '', ago: 6 * HOUR, told: false, closesAt: on(14), to: [people.agent], text: 'The list of open claims for the handover.' });
  const old = await sendDemo(context, maren, { subject: 'Medical certificates, October', reference: 'CR-2610-077', ago: 30 * DAY, closesAt: on(1), to: [people.clinic], text: 'The certificates that expire in October.' });
  await opened(context, old[0]!, 1, 29 * DAY, 29 * DAY);
  await context.db.transaction((transaction) => endGrants(context, old, { state: 'withdrawn', at: now }, transaction));

  const { token } = await invite(context, { address: `joss.amari@${context.config.office.mailDomain}`, name: 'Joss Amari', title: 'Deck office' });
  return { signIns: made.map(({ signIn }) => signIn), invitation: `${context.config.origin}/set-up#${token}` };
}

