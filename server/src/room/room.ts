/** The reading room's side of the server: it releases the house's half of a key to whoever proves to be the one named, and to nobody else. */
import { createHash, randomBytes, randomUUID, timingSafeEqual } from 'node:crypto';
import { type Room } from '@under-lock/contract/room';
import { type Bytes } from '@under-lock/core/bytes';
import { buildPasscodeMail, passcodeText } from '@under-lock/core/notice/notice';
import { makePasscode, maySendPasscode, PASSCODE_LIFE_MS, PASSCODE_RESEND_MS, type PasscodeState, tryPasscode } from '@under-lock/core/passcode/passcode';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { run } from '../data/database';
import { AccountRow, GrantRow, MessageRow, ReaderSessionRow } from '../data/models';
import { readPart } from '../blob/blob';
import { channelContext, houseShareContext, record } from '../message/grants';
import { notFound, Problem } from '../problem';

export const READER_SESSION_MS = 30 * 60_000;
const PASSCODE_MINUTES = PASSCODE_LIFE_MS / 60_000;

const tokenHash = (token: string): Buffer => createHash('sha256').update(token).digest();

async function findGrant(id: string, transaction?: Transaction): Promise<GrantRow> {
  const grant = await GrantRow.findByPk(id, transaction === undefined ? {} : { transaction, lock: transaction.LOCK.UPDATE });
  if (grant === null) throw new Problem('wrong-link', 404, 'There is nothing under this link');
  return grant;
}

type HeldGrant = GrantRow & { houseShare: Buffer; wrappedKey: Buffer; channel: Buffer };

/** The grant if it can be opened now. @throws Problem `grant-closed`, `grant-withdrawn`, `wrong-link` */
async function heldGrant(context: Context, id: string, transaction?: Transaction): Promise<HeldGrant> {
  const grant = await findGrant(id, transaction);
  if (grant.state === 'withdrawn') throw new Problem('grant-withdrawn', 410, 'The sender has withdrawn this message');
  if (grant.state === 'closed' || grant.closesAt <= context.clock()) throw new Problem('grant-closed', 410, 'This message is closed');
  return grant as HeldGrant;
}

function requireProof(grant: GrantRow, proof: Uint8Array): void {
  if (!timingSafeEqual(createHash('sha256').update(proof).digest(), grant.proofHash)) throw new Problem('wrong-link', 404, 'The link is not complete');
}

export async function isReader(context: Context, grantId: string, token: string | undefined): Promise<ReaderSessionRow | undefined> {
  if (token === undefined) return undefined;
  const session = await ReaderSessionRow.findOne({ where: { tokenHash: tokenHash(token), grantId } });
  return session !== null && session.expiresAt > context.clock() ? session : undefined;
}

export async function lookAtRoom(context: Context, id: string, token: string | undefined): Promise<Room> {
  const grant = await findGrant(id);
  const sender = await AccountRow.findByPk(grant.accountId);
  const about = { officeName: context.config.office.name, senderName: sender!.name, senderAddress: sender!.address, zone: context.config.office.calendar.zone };
  if (grant.state === 'withdrawn') return { state: 'withdrawn', ...about, endedAt: grant.endedAt! };
  if (grant.state === 'closed' || grant.closesAt <= context.clock()) return { state: 'closed', ...about, endedAt: grant.endedAt ?? grant.closesAt };
  return {
    state: 'held', ...about, closesAt: grant.closesAt, check: { kind: grant.checkKind, hint: grant.checkHint },
    identified: (await isReader(context, id, token)) !== undefined,
  };
}

const stateOf = (grant: GrantRow): PasscodeState => ({
  ...(grant.passcodeSentAt === null ? {} : { sentAt: grant.passcodeSentAt }),
  wrong: grant.passcodeWrong,
  pauses: grant.passcodePauses,
  ...(grant.passcodePausedUntil === null ? {} : { pausedUntil: grant.passcodePausedUntil }),
});

const hashOf = (context: Context, grantId: string, code: string): Buffer => context.secrets.keyedHash('passcode', `${grantId}|${code}`);

async function transmit(context: Context, grant: HeldGrant, code: string): Promise<boolean> {
  const { office } = context.config;
  const target = await context.secrets.openText(grant.channel, channelContext(grant.id));
  if (grant.checkKind === 'text') return context.phone.text(target, passcodeText(code, office.name, PASSCODE_MINUTES, 'en'), randomUUID());
  const raw = buildPasscodeMail({
    messageId: `${randomUUID()}@${office.mailDomain}`, date: context.clock(), officeName: office.name, from: { name: office.name, address: `passcode@${office.mailDomain}` },
    to: target, code, minutes: PASSCODE_MINUTES, language: 'en',
  });
  return (await context.mail.send({ from: `bounce@${office.mailDomain}`, to: target }, raw)).outcome === 'accepted';
}

/** Sends a passcode on a person's click. @throws Problem `passcode-paused`, `passcode-too-soon`, `unreachable` */
export async function sendPasscode(context: Context, id: string, proof: Uint8Array): Promise<{ resendAt: Date; expiresAt: Date }> {
  const now = context.clock();
  const code = makePasscode();
  // Stored first, under the row's lock, so that two clicks at once send one passcode.
  const grant = await context.db.transaction(async (transaction) => {
    const held = await heldGrant(context, id, transaction);
    requireProof(held, proof);
    const decision = maySendPasscode(stateOf(held), now);
    if (!decision.send) throw new Problem(decision.reason === 'paused' ? 'passcode-paused' : 'passcode-too-soon', 429, 'No passcode can be sent just now', { until: decision.until.toISOString() });
    await held.update({ passcodeHash: hashOf(context, id, code), passcodeSentAt: now }, { transaction });
    return held;
  });
  if (!(await transmit(context, grant, code))) {
    await run(context.db, 'UPDATE grants SET passcode_hash = NULL, passcode_sent_at = NULL WHERE id = $1 AND passcode_sent_at = $2', [id, now]);
    await record(context, { messageId: grant.messageId, grantId: id, kind: 'passcode-failed' });
    throw new Problem('unreachable', 502, 'The passcode could not be sent');
  }
  await record(context, { messageId: grant.messageId, grantId: id, kind: 'passcode-sent' });
  return { resendAt: new Date(now.getTime() + PASSCODE_RESEND_MS), expiresAt: new Date(now.getTime() + PASSCODE_LIFE_MS) };
}

/** Tries a passcode; a right one is spent and starts a reader's session, whose token is returned. @throws Problem `passcode-wrong`, `passcode-paused`, `passcode-expired` */
export async function enterPasscode(context: Context, id: string, proof: Uint8Array, passcode: string): Promise<string> {
  const now = context.clock();
  const outcome = await context.db.transaction(async (transaction) => {
    const grant = await heldGrant(context, id, transaction);
    requireProof(grant, proof);
    const matches = grant.passcodeHash !== null && timingSafeEqual(grant.passcodeHash, hashOf(context, id, passcode));
    const { result, next } = tryPasscode(stateOf(grant), matches, now);
    const wrong = result.outcome === 'wrong' || (result.outcome === 'paused' && next.pauses > grant.passcodePauses);
    await grant.update(
      {
        passcodeHash: next.sentAt === undefined ? null : grant.passcodeHash, passcodeSentAt: next.sentAt ?? null, passcodeWrong: next.wrong, passcodePauses: next.pauses,
        passcodePausedUntil: next.pausedUntil ?? null, wrongTries: grant.wrongTries + (wrong ? 1 : 0),
      },
      { transaction },
    );
    if (wrong) await record(context, { messageId: grant.messageId, grantId: id, kind: result.outcome === 'paused' ? 'passcode-paused' : 'passcode-wrong' }, transaction);
    if (result.outcome !== 'right') return { result };
    const token = randomBytes(32).toString('base64url');
    await ReaderSessionRow.create({ tokenHash: tokenHash(token), grantId: id, expiresAt: new Date(now.getTime() + READER_SESSION_MS) }, { transaction });
    return { result, token };
  });
  // Thrown out here: a refusal inside would roll the counted try back.
  switch (outcome.result.outcome) {
    case 'right':
      return outcome.token!;
    case 'wrong':
      throw new Problem('passcode-wrong', 403, 'This passcode is not right', { triesLeft: outcome.result.triesLeft });
    case 'paused':
      throw new Problem('passcode-paused', 429, 'Too many wrong passcodes', { until: outcome.result.until.toISOString() });
    case 'expired':
      throw new Problem('passcode-expired', 403, 'This passcode has been used or has run out');
  }
}

/** The house's half and what frames the message. Counted once a session, so that a reload is not a second opening. */
export async function openRoom(context: Context, id: string, session: ReaderSessionRow) {
  return context.db.transaction(async (transaction) => {
    const grant = await heldGrant(context, id, transaction);
    const message = (await MessageRow.findByPk(grant.messageId, { transaction }))!;
    const openedBefore = grant.openCount - (session.counted ? 1 : 0);
    if (!session.counted) {
      const now = context.clock();
      await grant.update({ openCount: grant.openCount + 1, firstOpenedAt: grant.firstOpenedAt ?? now, lastOpenedAt: now }, { transaction });
      await session.update({ counted: true }, { transaction });
      await record(context, { messageId: grant.messageId, grantId: id, kind: 'opened' }, transaction);
    }
    return {
      messageId: message.id,
      houseShare: await context.secrets.openBytes(grant.houseShare, houseShareContext(id)),
      wrappedKey: new Uint8Array(grant.wrappedKey),
      size: Number(message.size),
      reader: { name: grant.name, address: grant.address },
      handling: { ...message.handling, closesAt: grant.closesAt },
      openedBefore,
    };
  });
}

export async function readRoomPart(context: Context, id: string, index: number): Promise<Bytes> {
  const grant = await heldGrant(context, id);
  const message = await MessageRow.findByPk(grant.messageId, { attributes: ['contentBlobId'] });
  if (message?.contentBlobId == null) throw notFound('The content');
  return readPart(context, message.contentBlobId, index);
}

/** Somebody holds the link who is not the one named: the sender is told. */
export async function sayNotForMe(context: Context, id: string, proof: Uint8Array): Promise<void> {
  const grant = await heldGrant(context, id);
  requireProof(grant, proof);
  if (grant.notForMeAt !== null) return;
  await grant.update({ notForMeAt: context.clock() });
  await record(context, { messageId: grant.messageId, grantId: id, kind: 'not-for-me' });
}

export const leaveRoom = (session: ReaderSessionRow): Promise<void> => session.destroy();
