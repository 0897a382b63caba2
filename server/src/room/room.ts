/**
 * The reading room's side of the server: it releases the house's half of a key to whoever proves to be the one named,
 * and to nobody else.
 */
import { createHash, randomBytes, randomUUID, timingSafeEqual } from 'node:crypto';
import { type Room } from '@under-lock/contract/room';
import { type Bytes } from '@under-lock/core/bytes';
import { buildPasscodeMail, passcodeCall, passcodeText } from '@under-lock/core/notice/notice';
import {
  makePasscode,
  maySendPasscode,
  PASSCODE_LIFE_MS,
  PASSCODE_RESEND_MS,
  type PasscodeState,
  tryAnswer,
  tryPasscode,
} from '@under-lock/core/identity/passcode';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { askedOften, run } from '../data/database';
import { sendUnfollowed } from '../mail/office-mail';
import { AccountRow, GrantRow, MessageRow, ReaderSessionRow } from '../data/models';
import {
  confirmReading,
  countOpening,
  hasArrived,
  HELD_COLUMNS,
  type HeldColumns,
  heldFor,
  type HeldGrant as HeldForReader,
  heldIn,
  readHeldPart,
  released,
  requireOpen,
  type Use,
  recordUse,
} from '../access/release';
import { currentLook } from '../office/look';
import { answerMatches, channelContext, record, toldMatches } from '../access/grants';
import { spendCodes } from '../phone/budget';
import { invalid, Problem } from '../problem';

export const READER_SESSION_MS = 30 * 60_000;
const PASSCODE_MINUTES = PASSCODE_LIFE_MS / 60_000;

const room = { kind: 'room' } as const;

const UUID = /^[\da-f]{8}(-[\da-f]{4}){3}-[\da-f]{12}$/i;
const tokenHash = (token: string): Buffer => createHash('sha256').update(token).digest();

const nothingThere = (): Problem => new Problem('wrong-link', 404, 'There is nothing under this link');

const hasNotLeft = (context: Context, { arrivedAt }: GrantRow): boolean =>
  arrivedAt != null && arrivedAt > context.clock();

async function findGrant(context: Context, id: string, transaction?: Transaction): Promise<GrantRow> {
  const grant = await GrantRow.findByPk(
    id,
    transaction === undefined ? {} : { transaction, lock: transaction.LOCK.UPDATE },
  );
  if (grant === null || hasNotLeft(context, grant)) throw nothingThere();
  return grant;
}

type HeldGrant = GrantRow & { houseShare: Buffer; wrappedKey: Buffer };

/** The grant if it can be opened now. @throws Problem `grant-closed`, `grant-withdrawn`, `wrong-link` */
async function heldGrant(context: Context, id: string, transaction?: Transaction): Promise<HeldGrant> {
  const grant = await findGrant(context, id, transaction);
  // A colleague's access has no link: under this door there is nothing.
  if (grant.readerKind !== 'link') throw nothingThere();
  requireOpen(grant.state, grant.closesAt, context.clock());
  return grant as HeldGrant;
}

function requireProof(grant: GrantRow, proof: Uint8Array): void {
  if (grant.proofHash === null || !timingSafeEqual(createHash('sha256').update(proof).digest(), grant.proofHash))
    throw new Problem('wrong-link', 404, 'The link is not complete');
}

/** A passed identity check: who holds its token reads this access until it expires. */
export interface ReaderSession {
  tokenHash: Buffer;
  grantId: string;
  /** It has been counted as an opening. */
  counted: boolean;
  /**
   * What it opens, as it stood when the request came in: for a request that brings a body there is `heldFor`, since
   * somebody may take their time with it. @throws Problem `not-found`, `grant-closed`, `grant-withdrawn` */
  held(): HeldForReader;
}

const SESSION = {
  name: 'reader-session',
  sql: `SELECT s.counted, g.reader_kind <> 'account' AND g.reader_account_id IS NULL AND ${hasArrived('$3')} AS here, ${HELD_COLUMNS}
    FROM reader_sessions s JOIN grants g ON g.id = s.grant_id JOIN messages m ON m.id = g.message_id
    WHERE s.token_hash = $1 AND s.grant_id = $2 AND s.expires_at > $3`,
};

/** In one query, which also reads what most requests of a reader are about. */
export async function readerSession(
  context: Context,
  grantId: string,
  token: string | undefined,
): Promise<ReaderSession | undefined> {
  if (token === undefined || !UUID.test(grantId)) return undefined;
  const hash = tokenHash(token);
  const [row] = await askedOften<HeldColumns & { counted: boolean; here: boolean }>(context.db, SESSION, [
    hash,
    grantId,
    context.clock(),
  ]);
  if (row === undefined) return undefined;
  const { counted, here, ...grant } = row;
  return { tokenHash: hash, grantId, counted, held: () => heldIn(context, room, here ? grant : undefined) };
}

/** Who wrote what this grant opens: the account, or the reader whose reply it is. */
async function senderOf(grant: GrantRow): Promise<{ name: string; address: string }> {
  const message = await MessageRow.findByPk(grant.messageId, { attributes: ['senderGrantId', 'senderAddress'] });
  if (message?.senderGrantId != null) return (await GrantRow.findByPk(message.senderGrantId))!;
  const { name, address } = (await AccountRow.findByPk(grant.accountId))!;
  return { name, address: message?.senderAddress ?? address };
}

export async function lookAtRoom(context: Context, id: string, token: string | undefined): Promise<Room> {
  const grant = await findGrant(context, id);
  if (grant.checkKind === 'account') throw nothingThere();
  const sender = await senderOf(grant);
  const about = {
    officeName: context.config.office.name,
    colour: (await currentLook(context)).look.colour,
    senderName: sender.name || sender.address,
    senderAddress: sender.address,
    zone: context.config.office.calendar.zone,
  };
  if (grant.state === 'withdrawn') return { state: 'withdrawn', ...about, endedAt: grant.endedAt! };
  if (grant.state === 'closed' || grant.closesAt <= context.clock())
    return { state: 'closed', ...about, endedAt: grant.endedAt ?? grant.closesAt };
  return {
    state: 'held',
    ...about,
    closesAt: grant.closesAt,
    carried: grant.carried,
    check: {
      kind: grant.checkKind,
      hint: grant.checkHint,
      ...(grant.question === null ? {} : { question: new Uint8Array(grant.question) }),
      ...(grant.checkKind === 'told' ? { used: grant.toldHash === null } : {}),
    },
    identified: (await readerSession(context, id, token)) !== undefined,
  };
}

const stateOf = (grant: GrantRow): PasscodeState => ({
  ...(grant.passcodeSentAt === null ? {} : { sentAt: grant.passcodeSentAt }),
  wrong: grant.passcodeWrong,
  pauses: grant.passcodePauses,
  ...(grant.passcodePausedUntil === null ? {} : { pausedUntil: grant.passcodePausedUntil }),
  spent: grant.passcodeSpent,
});

/** Purpose and text of the keyed hash that is kept of a passcode. */
const hashed = (grantId: string, code: string): [string, string] => ['passcode', `${grantId}|${code}`];

async function transmit(context: Context, grant: HeldGrant, code: string): Promise<boolean> {
  const { office } = context.config;
  if (grant.channel === null) throw invalid('This access sends no passcode.');
  const target = await context.secrets.openText(grant.channel, channelContext(grant.id));
  if (grant.checkKind === 'voice')
    return context.phone.call(target, passcodeCall(code, office.name, grant.language), grant.language, randomUUID());
  if (grant.checkKind === 'text')
    return context.phone.text(target, passcodeText(code, office.name, PASSCODE_MINUTES, grant.language), randomUUID());
  const raw = buildPasscodeMail({
    messageId: `${randomUUID()}@${office.mailDomain}`,
    date: context.clock(),
    officeName: office.name,
    from: { name: office.name, address: `passcode@${office.mailDomain}` },
    to: target,
    code,
    minutes: PASSCODE_MINUTES,
    language: grant.language,
  });
  return (await sendUnfollowed(context, target, raw)).outcome === 'accepted';
}

const stopped = (): Problem =>
  new Problem('passcode-stopped', 429, 'The wrong tries are used up; only the sender can let you try again');

/** Before a code is made: whether the phone has had its share of them for today. @throws Problem `too-many-tries` */
async function requireSendable(context: Context, id: string, proof: Uint8Array): Promise<void> {
  const grant = await heldGrant(context, id);
  requireProof(grant, proof);
  if (grant.channel === null || !maySendPasscode(stateOf(grant), context.clock()).send) return;
  await spendCodes(context, grant, await context.secrets.openText(grant.channel, channelContext(id)));
}

/**
 * Sends a passcode on a person's click. @throws Problem `passcode-paused`, `passcode-stopped`, `passcode-too-soon`,
 * `unreachable`
 */
export async function sendPasscode(
  context: Context,
  id: string,
  proof: Uint8Array,
): Promise<{ resendAt: Date; expiresAt: Date }> {
  const now = context.clock();
  const code = makePasscode();
  await requireSendable(context, id, proof);
  // Stored first, under the row's lock, so that two clicks at once send one passcode.
  const grant = await context.db.transaction(async (transaction) => {
    const held = await heldGrant(context, id, transaction);
    requireProof(held, proof);
    if (held.channel === null) throw invalid('This access sends no passcode.');
    const decision = maySendPasscode(stateOf(held), now);
    if (!decision.send && decision.reason === 'stopped') throw stopped();
    if (!decision.send)
      throw new Problem(
        decision.reason === 'paused' ? 'passcode-paused' : 'passcode-too-soon',
        429,
        'No passcode can be sent just now',
        { until: decision.until.toISOString() },
      );
    await held.update(
      { passcodeHash: context.secrets.keyedHash(...hashed(id, code)), passcodeSentAt: now },
      { transaction },
    );
    return held;
  });
  if (!(await transmit(context, grant, code))) {
    await run(
      context.db,
      'UPDATE grants SET passcode_hash = NULL, passcode_sent_at = NULL WHERE id = $1 AND passcode_sent_at = $2',
      [id, now],
    );
    await record(context, { messageId: grant.messageId, grantId: id, kind: 'passcode-failed' });
    throw new Problem('unreachable', 502, 'The passcode could not be sent');
  }
  await record(context, { messageId: grant.messageId, grantId: id, kind: 'passcode-sent' });
  return {
    resendAt: new Date(now.getTime() + PASSCODE_RESEND_MS),
    expiresAt: new Date(now.getTime() + PASSCODE_LIFE_MS),
  };
}

export interface Identification {
  passcode?: string | undefined;
  answerProof?: Uint8Array | undefined;
  /** Of a one-time password that the sender told. */
  toldProof?: Uint8Array | undefined;
}

/**
 * What was tried and what came of it. Of two things asked both must be right at once; which of them was wrong is said,
 * at the price of a try.
 */
async function judge(
  context: Context,
  grant: HeldGrant,
  { passcode, answerProof, toldProof }: Identification,
  now: Date,
) {
  const state = stateOf(grant);
  if (grant.checkKind === 'told') {
    if (toldProof === undefined) throw invalid('A one-time password is asked.');
    if (grant.toldHash === null)
      return { result: { outcome: 'expired' as const }, next: state, what: 'passcode' as const };
    const tried = tryAnswer(state, await toldMatches(context, grant.id, grant.toldHash, toldProof), now);
    if (tried.result.outcome !== 'right' || grant.answerHash === null) return { ...tried, what: 'passcode' as const };
  }
  if (grant.channel !== null) {
    if (passcode === undefined) throw invalid('A passcode is asked.');
    const matches =
      grant.passcodeHash !== null && context.secrets.matches(grant.passcodeHash, ...hashed(grant.id, passcode));
    const tried = tryPasscode(state, matches, now);
    if (tried.result.outcome !== 'right' || grant.answerHash === null) return { ...tried, what: 'passcode' as const };
  }
  if (grant.answerHash === null || answerProof === undefined) throw invalid('The answer to the question is asked.');
  return {
    ...tryAnswer(state, await answerMatches(context, grant.id, grant.answerHash, answerProof), now),
    what: 'answer' as const,
  };
}

type Tried = Awaited<ReturnType<typeof judge>>;

const wrongTry = (outcome: Tried['result']['outcome'], what: Tried['what']) =>
  outcome === 'stopped'
    ? 'passcode-stopped'
    : outcome === 'paused'
      ? 'passcode-paused'
      : what === 'answer'
        ? 'answer-wrong'
        : 'passcode-wrong';

function refusal({ result, what }: Pick<Tried, 'result' | 'what'>): Problem {
  switch (result.outcome) {
    case 'wrong': {
      const { triesLeft } = result;
      return what === 'answer'
        ? new Problem('answer-wrong', 403, 'This answer is not right', { triesLeft })
        : new Problem('passcode-wrong', 403, 'This passcode is not right', { triesLeft });
    }
    case 'paused':
      return new Problem('passcode-paused', 429, 'Too many wrong tries', { until: result.until.toISOString() });
    case 'stopped':
      return stopped();
    case 'expired':
      return new Problem('passcode-expired', 403, 'This passcode has been used or has run out');
    case 'right':
      throw new TypeError('What is right is not refused');
  }
}

/**
 * Tries passcode and answer; right ones start a reader's session, whose token is returned. @throws Problem
 * `passcode-wrong`, `answer-wrong`, `passcode-paused`, `passcode-stopped`, `passcode-expired`
 */
export async function identify(
  context: Context,
  id: string,
  proof: Uint8Array,
  given: Identification,
): Promise<string> {
  const now = context.clock();
  const tried = await context.db.transaction(async (transaction) => {
    const grant = await heldGrant(context, id, transaction);
    requireProof(grant, proof);
    const { result, next, what } = await judge(context, grant, given, now);
    const wrong = next.spent > grant.passcodeSpent;
    await grant.update(
      {
        passcodeHash: next.sentAt === undefined ? null : grant.passcodeHash,
        passcodeSentAt: next.sentAt ?? null,
        passcodeWrong: next.wrong,
        passcodePauses: next.pauses,
        passcodePausedUntil: next.pausedUntil ?? null,
        passcodeSpent: next.spent,
        wrongTries: grant.wrongTries + (wrong ? 1 : 0),
        // It opens one session and no other.
        ...(result.outcome === 'right' ? { toldHash: null } : {}),
      },
      { transaction },
    );
    if (wrong)
      await record(
        context,
        { messageId: grant.messageId, grantId: id, kind: wrongTry(result.outcome, what) },
        transaction,
      );
    if (result.outcome !== 'right') return { result, what };
    const token = randomBytes(32).toString('base64url');
    await ReaderSessionRow.create(
      { tokenHash: tokenHash(token), grantId: id, expiresAt: new Date(now.getTime() + READER_SESSION_MS) },
      { transaction },
    );
    return { result, what, token };
  });
  if (tried.token !== undefined) return tried.token;
  // Thrown out here: a refusal inside would roll the counted try back.
  throw refusal(tried);
}

/** The house's half and what frames the message. Counted once a session, so that a reload is not a second opening. */
export async function openRoom(context: Context, id: string, session: ReaderSession) {
  const about = async (grant: HeldForReader, openedBefore: number) => ({
    ...(await released(context, grant)),
    choose: grant.choose,
    reader: { name: grant.name, address: grant.address },
    openedBefore,
  });
  if (session.counted) {
    const grant = session.held();
    return about(grant, grant.open_count - 1);
  }
  return context.db.transaction(async (transaction) => {
    const grant = await heldFor(context, room, id, transaction);
    await countOpening(context, grant, transaction);
    await run(
      context.db,
      'UPDATE reader_sessions SET counted = true WHERE token_hash = $1',
      [session.tokenHash],
      transaction,
    );
    return about(grant, grant.open_count);
  });
}

export const readRoomPart = async (context: Context, session: ReaderSession, index: number): Promise<Bytes> =>
  readHeldPart(context, session.held(), index);

/** Something the reader wants to do with what was released: recorded for the sender, or refused. */
export const recordRoomUse = async (context: Context, id: string, what: Use): Promise<void> =>
  recordUse(context, await heldFor(context, room, id), what);

export const confirmRoom = (context: Context, id: string): Promise<{ at: Date }> => confirmReading(context, room, id);

/** The reader can't get at the phone or mailbox we know: the sender is told, and decides. */
export async function askOtherWay(context: Context, id: string, proof: Uint8Array, wish: string): Promise<void> {
  const grant = await heldGrant(context, id);
  requireProof(grant, proof);
  await context.db.transaction(async (transaction) => {
    const fresh = grant.otherWayAt === null;
    await grant.update({ otherWayAt: context.clock(), otherWay: wish }, { transaction });
    if (fresh) await record(context, { messageId: grant.messageId, grantId: id, kind: 'other-way-asked' }, transaction);
  });
}

/** Somebody holds the link who is not the one named: the sender is told. */
export async function sayNotForMe(context: Context, id: string, proof: Uint8Array): Promise<void> {
  const grant = await heldGrant(context, id);
  requireProof(grant, proof);
  if (grant.notForMeAt !== null) return;
  await grant.update({ notForMeAt: context.clock() });
  await record(context, { messageId: grant.messageId, grantId: id, kind: 'not-for-me' });
}

export const leaveRoom = async (context: Context, { tokenHash: hash }: ReaderSession): Promise<void> =>
  void (await run(context.db, 'DELETE FROM reader_sessions WHERE token_hash = $1', [hash]));
