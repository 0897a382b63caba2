/** What the demo's people sent, in its past: sealed and dispatched as their browsers would have done. */
import { PART_BYTES, partCount } from '@under-lock/contract/blob';
import { type PublicKey } from '@under-lock/core/account/key-pair';
import { type Bytes, randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { termsOfPreset } from '@under-lock/core/handling/preset';
import { sealForRoom } from '@under-lock/core/locks/room/seal';
import { type WantedReader } from '@under-lock/core/locks/wanted';
import { type MessageFile } from '@under-lock/core/message/content';
import { outgoingGrant } from '@under-lock/core/outgoing/dispatch';
import { type Summary } from '@under-lock/core/outgoing/draft';
import { splitFor } from '@under-lock/core/outgoing/split';
import { type Correspondent } from '@under-lock/core/people/address';
import { wordsOf } from '@under-lock/core/search/words';
import { sealItem } from '@under-lock/core/vault/item';
import { randomUUID } from 'node:crypto';
import { record } from '../access/grants';
import { ownBlob, putPart, startBlob } from '../blob/blob';
import { type Context } from '../context';
import { run } from '../data/database';
import { GrantRow, OutboxRow } from '../data/models';
import { deliverNotice } from '../outgoing/deliver';
import { dispatchMessage } from '../outgoing/dispatch';
import { type RegisteredRecipient, type Worker } from './accounts';
import { type PresetIds, type PresetName, presets } from './office';

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

/** By whom, under which presets; a colleague is told in the house. */
export interface From {
  worker: Worker;
  presetIds: PresetIds;
  colleague?: Worker;
}

function readerOf({ phone, account }: DemoMessage['to'][number], colleague: Worker | undefined): WantedReader {
  if (account !== undefined) return { kind: 'registered', readerId: account.readerId, ...publicKeyOf(account.key) };
  if (colleague === undefined) return { kind: 'link', check: 'text', target: phone };
  return { kind: 'account', accountId: colleague.account.id, ...publicKeyOf(colleague.pair) };
}

/** @returns Its blob. */
async function keepContent(context: Context, accountId: string, content: Bytes): Promise<string> {
  const blobId = randomUUID();
  await startBlob(context, accountId, blobId, content.length);
  for (let index = 0; index < partCount(content.length); index++)
    await putPart(
      context,
      await ownBlob(accountId, blobId),
      index,
      content.subarray(index * PART_BYTES, (index + 1) * PART_BYTES),
    );
  return blobId;
}

/** What was sent days ago says so. */
async function setBack({ db }: Context, id: string, sentAt: Date): Promise<void> {
  for (const statement of [
    'UPDATE messages SET sent_at = $2 WHERE id = $1',
    'UPDATE events SET at = $2 WHERE message_id = $1',
    'UPDATE outbox SET created_at = $2 WHERE grant_id IN (SELECT id FROM grants WHERE message_id = $1)',
    'UPDATE grants SET arrived_at = $2, notice_at = $2 WHERE message_id = $1 AND arrived_at IS NOT NULL',
  ])
    await run(db, statement, [id, sentAt]);
}

/** Has the outside world take the notices of a message, in the demo's past. */
async function tell(then: Context, messageId: string): Promise<void> {
  for (const { id } of await OutboxRow.findAll({
    where: { grantId: (await GrantRow.findAll({ where: { messageId } })).map((grant) => grant.id) },
  }))
    await deliverNotice(then, id);
}

export async function sendDemo(
  context: Context,
  { worker: { account, key }, presetIds, colleague }: From,
  demo: DemoMessage,
): Promise<GrantRow[]> {
  const { subject, reference, text, html = '', files = [], to } = demo;
  const id = randomUUID();
  const contentKey = { key: randomBytes(32), salt: randomBytes(32) };
  const kept = { key: toBase64Url(contentKey.key), salt: toBase64Url(contentKey.salt) };
  const sentAt = new Date(context.clock().getTime() - demo.ago);
  const mailId = `${randomUUID()}@${context.config.office.mailDomain}`;
  const grants = await splitFor(
    { messageId: id, subject },
    kept,
    to.map((one) => ({ address: one.address, name: one.name, role: 'to', reader: readerOf(one, colleague) })),
    randomUUID,
  );
  const from = { name: account.name, address: account.address };
  const content = await sealForRoom(
    { messageId: mailId, from, to, cc: [], subject, date: sentAt, reference, text, html, files },
    contentKey,
  );
  const summary: Summary = {
    subject,
    mailId,
    key: kept,
    files: files.map(({ name, bytes }) => ({ name, size: bytes.length })),
    links: Object.fromEntries(grants.map((grant) => [grant.id, grant.readerShare])),
  };
  const { closing: _, ...terms } = termsOfPreset(presets[demo.preset].terms);
  await dispatchMessage(context, account, {
    id,
    contentBlobId: await keepContent(context, account.id, content),
    reference,
    handling: { closesAt: demo.closesAt, ...terms },
    presetId: presetIds[demo.preset],
    summary: await sealItem(key, 'sent', id, summary),
    words: await sealItem(key, 'words', id, wordsOf({ text, files })),
    grants: grants.map(outgoingGrant),
  });
  await setBack(context, id, sentAt);
  if (demo.told !== false) await tell({ ...context, clock: () => new Date(sentAt.getTime() + 40_000) }, id);
  return GrantRow.findAll({ where: { messageId: id }, order: ['position'] });
}

/** Milliseconds ago, the first time and the last. */
export interface Openings {
  times: number;
  first: number;
  last: number;
}

export async function opened(context: Context, grant: GrantRow, { times, first, last }: Openings): Promise<void> {
  const now = context.clock().getTime();
  await grant.update({
    openCount: times,
    firstOpenedAt: new Date(now - first),
    lastOpenedAt: new Date(now - last),
  });
  for (const ago of times === 1 ? [first] : [first, last])
    await record(
      { ...context, clock: () => new Date(now - ago) },
      { messageId: grant.messageId, grantId: grant.id, kind: 'opened' },
    );
}
