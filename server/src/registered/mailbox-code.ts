/**
 * Six digits by mail that prove a mailbox to be somebody's own. The same rules as for passcodes; the budget of wrong
 * tries comes back only
 * with a right one, or a month after the last was asked for. The digits belong to who asked for them, a browser or an
 * access whose check was passed: somebody
 * else's wrong tries cost the owner of a mailbox nothing. What is sent to one mailbox for other browsers comes ever
 * more slowly, so that neither is it flooded nor guessed at for long.
 */
import { randomUUID, timingSafeEqual } from 'node:crypto';
import {
  makePasscode,
  maySendPasscode,
  PASSCODE_LIFE_MS,
  PASSCODE_RESEND_MS,
  type PasscodeState,
  tryPasscode,
} from '@under-lock/core/identity/passcode';
import { buildMailboxCodeMail } from '@under-lock/core/notice/notice';
import { addressKey } from '@under-lock/core/people/address';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { sendUnfollowed } from '../mail/office-mail';
import { type Trier } from '../account/account';
import { knownDevice } from '../account/device';
import { placeOf } from '../account/place';
import { giveBack, takeTry, type Throttle } from '../limits/throttle';
import { Problem } from '../problem';

interface CodeRow {
  code_hash: Buffer | null;
  sent_at: Date | null;
  wrong: number;
  pauses: number;
  paused_until: Date | null;
  spent: number;
}

const keyOf = (context: Context, address: string, asker: string): Buffer =>
  context.secrets.keyedHash('mailbox', `${addressKey(address)}|${asker}`);
const hashOf = (context: Context, address: string, asker: string, code: string): Buffer =>
  context.secrets.keyedHash('mailbox-code', `${addressKey(address)}|${asker}|${code}`);
const stateOf = ({ sent_at, wrong, pauses, paused_until, spent }: CodeRow): PasscodeState => ({
  wrong,
  pauses,
  spent,
  ...(sent_at === null ? {} : { sentAt: sent_at }),
  ...(paused_until === null ? {} : { pausedUntil: paused_until }),
});

async function lockedState(context: Context, key: Buffer, transaction: Transaction): Promise<CodeRow> {
  await run(
    context.db,
    'INSERT INTO mailbox_codes (key, asked_at) VALUES ($1, $2) ON CONFLICT DO NOTHING',
    [key, context.clock()],
    transaction,
  );
  return (
    await rows<CodeRow>(
      context.db,
      'SELECT code_hash, sent_at, wrong, pauses, paused_until, spent FROM mailbox_codes WHERE key = $1 FOR UPDATE',
      [key],
      transaction,
    )
  )[0]!;
}

const refused = (reason: 'stopped' | 'paused' | 'too-soon', until?: Date): Problem =>
  reason === 'stopped'
    ? new Problem('passcode-stopped', 429, 'The wrong tries are used up')
    : new Problem(
        reason === 'paused' ? 'passcode-paused' : 'passcode-too-soon',
        429,
        'No digits can be sent just now',
        { until: until!.toISOString() },
      );

export interface CodeRequest {
  /** Who asks, and may use the digits. */
  asker: string;
  /** Where from, when that is anybody's to say. */
  trier?: Trier;
  /** False when nothing is to leave and all else is to be the same: nobody learns whether an address is known. */
  really?: boolean;
}

const HOUR_MS = 3_600_000;

/** What may be sent to one mailbox from browsers that nobody knows, and what one place may ask for. */
function budgetsFor(context: Context, address: string, { ip, device }: Trier): Throttle[] {
  const known = knownDevice(context, device, address);
  const who = addressKey(address);
  if (known !== undefined)
    return [
      { purpose: 'mailbox/device', who: `${who}|${known}`, free: 5, firstWaitMs: 60_000, longestWaitMs: HOUR_MS },
    ];
  return [
    { purpose: 'mailbox/place', who: placeOf(ip), free: 20, firstWaitMs: 60_000, longestWaitMs: HOUR_MS },
    { purpose: 'mailbox/address', who, free: 4, firstWaitMs: 60_000, longestWaitMs: 12 * HOUR_MS },
  ];
}

/** Sends digits on a person's click. @throws Problem `passcode-too-soon` and its like, `too-many-tries` */
export async function sendMailboxCode(
  context: Context,
  address: string,
  language: string,
  { asker, trier, really = true }: CodeRequest,
): Promise<{ resendAt: Date }> {
  const now = context.clock();
  const code = makePasscode();
  const key = keyOf(context, address, asker);
  const budgets = trier === undefined ? [] : budgetsFor(context, address, trier);
  await takeTry(context, budgets);
  const decision = await context.db.transaction(async (transaction) => {
    const may = maySendPasscode(stateOf(await lockedState(context, key, transaction)), now);
    if (may.send)
      await run(
        context.db,
        'UPDATE mailbox_codes SET code_hash = $2, sent_at = $3, asked_at = $3 WHERE key = $1',
        [key, really ? hashOf(context, address, asker, code) : null, now],
        transaction,
      );
    return may;
  });
  if (!decision.send) {
    await giveBack(context, budgets);
    throw refused(decision.reason, 'until' in decision ? decision.until : undefined);
  }
  const { office } = context.config;
  if (really) {
    const raw = buildMailboxCodeMail({
      messageId: `${randomUUID()}@${office.mailDomain}`,
      date: now,
      officeName: office.name,
      from: { name: office.name, address: `passcode@${office.mailDomain}` },
      to: address,
      code,
      minutes: PASSCODE_LIFE_MS / 60_000,
      language,
    });
    // Nobody waits for the mail host: what it answers, and how long it takes, would tell which addresses are known.
    // Without digits the reader asks again.
    void sendUnfollowed(context, address, raw).catch((error: unknown) => context.log.error('mailbox-code', error));
  }
  return { resendAt: new Date(now.getTime() + PASSCODE_RESEND_MS) };
}

/** Spends the digits. @throws Problem `wrong-code`, `passcode-expired`, `passcode-paused`, `passcode-stopped` */
export async function spendMailboxCode(context: Context, address: string, code: string, asker: string): Promise<void> {
  const key = keyOf(context, address, asker);
  const result = await context.db.transaction(async (transaction) => {
    const row = await lockedState(context, key, transaction);
    const matches = row.code_hash !== null && timingSafeEqual(row.code_hash, hashOf(context, address, asker, code));
    const { result: tried, next } = tryPasscode(stateOf(row), matches, context.clock());
    const spent = tried.outcome === 'right' ? 0 : next.spent;
    await run(
      context.db,
      'UPDATE mailbox_codes SET code_hash = $2, sent_at = $3, wrong = $4, pauses = $5, paused_until = $6, spent = $7 WHERE key = $1',
      [
        key,
        next.sentAt === undefined ? null : row.code_hash,
        next.sentAt ?? null,
        next.wrong,
        next.pauses,
        next.pausedUntil ?? null,
        spent,
      ],
      transaction,
    );
    return tried;
  });
  // Thrown out here: a refusal inside would roll the counted try back.
  switch (result.outcome) {
    case 'right':
      return;
    case 'wrong':
      throw new Problem('wrong-code', 403, 'These digits are not right', { triesLeft: result.triesLeft });
    case 'expired':
      throw new Problem('passcode-expired', 403, 'These digits have been used or have run out');
    case 'paused':
      throw refused('paused', result.until);
    case 'stopped':
      throw refused('stopped');
  }
}
