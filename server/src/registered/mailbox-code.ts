/**
 * Six digits by mail that prove a mailbox to be somebody's own. The same rules as for passcodes; the budget of wrong tries comes back only
 * with a right one, or a month after the last was asked for.
 */
import { randomUUID, timingSafeEqual } from 'node:crypto';
import { makePasscode, maySendPasscode, PASSCODE_LIFE_MS, PASSCODE_RESEND_MS, type PasscodeState, tryPasscode } from '@under-lock/core/identity/passcode';
import { buildMailboxCodeMail } from '@under-lock/core/notice/notice';
import { addressKey } from '@under-lock/core/people/address';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { Problem } from '../problem';

interface CodeRow { code_hash: Buffer | null; sent_at: Date | null; wrong: number; pauses: number; paused_until: Date | null; spent: number }

const keyOf = (context: Context, address: string): Buffer => context.secrets.keyedHash('mailbox', addressKey(address));
const hashOf = (context: Context, address: string, code: string): Buffer => context.secrets.keyedHash('mailbox-code', `${addressKey(address)}|${code}`);
const stateOf = ({ sent_at, wrong, pauses, paused_until, spent }: CodeRow): PasscodeState => ({ wrong, pauses, spent, ...(sent_at === null ? {} : { sentAt: sent_at }), ...(paused_until === null ? {} : { pausedUntil: paused_until }) });

async function lockedState(context: Context, key: Buffer, transaction: Transaction): Promise<CodeRow> {
  await run(context.db, 'INSERT INTO mailbox_codes (key, asked_at) VALUES ($1, $2) ON CONFLICT DO NOTHING', [key, context.clock()], transaction);
  return (await rows<CodeRow>(context.db, 'SELECT code_hash, sent_at, wrong, pauses, paused_until, spent FROM mailbox_codes WHERE key = $1 FOR UPDATE', [key], transaction))[0]!;
}

const refused = (reason: 'stopped' | 'paused' | 'too-soon', until?: Date): Problem =>
  reason === 'stopped'
    ? new Problem('passcode-stopped', 429, 'The wrong tries are used up')
    : new Problem(reason === 'paused' ? 'passcode-paused' : 'passcode-too-soon', 429, 'No digits can be sent just now', { until: until!.toISOString() });

/** Sends digits on a person's click. With `really` false nothing leaves and all else is the same: nobody learns whether an address is known. @throws Problem */
export async function sendMailboxCode(context: Context, address: string, language: string, really = true): Promise<{ resendAt: Date }> {
  const now = context.clock();
  const code = makePasscode();
  const key = keyOf(context, address);
  await context.db.transaction(async (transaction) => {
    const decision = maySendPasscode(stateOf(await lockedState(context, key, transaction)), now);
    if (!decision.send) throw refused(decision.reason, 'until' in decision ? decision.until : undefined);
    await run(context.db, 'UPDATE mailbox_codes SET code_hash = $2, sent_at = $3, asked_at = $3 WHERE key = $1', [key, really ? hashOf(context, address, code) : null, now], transaction);
  });
  const { office } = context.config;
  if (really) {
    const raw = buildMailboxCodeMail({
      messageId: `${randomUUID()}@${office.mailDomain}`, date: now, officeName: office.name, from: { name: office.name, address: `passcode@${office.mailDomain}` }, to: address, code, minutes: PASSCODE_LIFE_MS / 60_000, language,
    });
    // Nobody waits for the mail host: what it answers, and how long it takes, would tell which addresses are known. Without digits the reader asks again.
    void context.mail.send({ from: `bounce@${office.mailDomain}`, to: address }, raw).catch((error: unknown) => context.log.error('mailbox-code', error));
  }
  return { resendAt: new Date(now.getTime() + PASSCODE_RESEND_MS) };
}

/** Spends the digits. @throws Problem `wrong-code`, `passcode-expired`, `passcode-paused`, `passcode-stopped` */
export async function spendMailboxCode(context: Context, address: string, code: string): Promise<void> {
  const key = keyOf(context, address);
  const result = await context.db.transaction(async (transaction) => {
    const row = await lockedState(context, key, transaction);
    const matches = row.code_hash !== null && timingSafeEqual(row.code_hash, hashOf(context, address, code));
    const { result: tried, next } = tryPasscode(stateOf(row), matches, context.clock());
    const spent = tried.outcome === 'right' ? 0 : next.spent;
    await run(
      context.db, 'UPDATE mailbox_codes SET code_hash = $2, sent_at = $3, wrong = $4, pauses = $5, paused_until = $6, spent = $7 WHERE key = $1',
      [key, next.sentAt === undefined ? null : row.code_hash, next.sentAt ?? null, next.wrong, next.pauses, next.pausedUntil ?? null, spent], transaction,
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
