/** A worker's sessions: a random token in a cookie, its SHA-256 in the database. */
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { type Account, type Session } from '@under-lock/contract/account';
import { type Context } from '../context';
import { hashingOf, openedBytes } from './credentials';
import { byAccount, type LogLine, telling } from '../log/log';
import { askedOften, columnsOf, named, run } from '../data/database';
import { AccountRow, SessionRow } from '../data/models';
import { Problem } from '../problem';
import { type OwnDevice } from '../submission/devices';
import { type Attributes, type Transaction } from 'sequelize';

/** Signed out after this long without a request, and after a fortnight in any case. */
export const SESSION_IDLE_MS = 12 * 60 * 60_000;
export const SESSION_LIFE_MS = 14 * 24 * 60 * 60_000;
const SEEN_EVERY_MS = 60_000;

export const tokenHash = (token: Uint8Array): Buffer => createHash('sha256').update(token).digest();

export interface SignedIn {
  account: AccountRow;
  session: { id: string };
  /** By which of their mail programs, where the door for these acts in their name. */
  device?: OwnDevice;
}

export const accountOf = (row: AccountRow): Account => ({
  id: row.id,
  address: row.address,
  name: row.name,
  title: row.title,
  role: row.role,
  further: row.further,
  departments: row.departments,
  mayRelease: row.mayRelease,
  ...(row.phone ? { phone: row.phone } : {}),
});

export async function sessionOf(context: Context, row: AccountRow): Promise<Session> {
  const hashing = await hashingOf(context, 'account', { id: row.id, hashing: row.hashing ?? null });
  if (hashing === undefined || row.wrappedSecret == null)
    throw new Problem('not-signed-in', 401, 'This account is not set up yet');
  return {
    account: accountOf(row),
    toldByMail: row.toldByMail,
    ...(row.toldAddress ? { toldAddress: row.toldAddress } : {}),
    hasKey: row.publicKey !== null && row.publicKey !== undefined,
    hashing,
    wrappedSecret: await openedBytes(context, 'account', row.id, 'wrapped-secret', row.wrappedSecret),
  };
}

/** Starts a session and returns the token for the cookie. */
export async function startSession(
  context: Context,
  account: AccountRow,
  device: string,
  line: LogLine,
): Promise<string> {
  const token = randomBytes(32);
  const now = context.clock();
  await telling(context, line, async (transaction) => {
    await SessionRow.create(
      { id: randomUUID(), tokenHash: tokenHash(token), accountId: account.id, device, createdAt: now, lastSeenAt: now },
      { transaction },
    );
  });
  return token.toString('base64url');
}

/** With every request, so in one statement. */
const ACCOUNT_OF_TOKEN = named(
  'account-session',
  () => `SELECT s.id AS "sessionId", s.created_at AS "begun", s.last_seen_at AS "lastSeen", ${columnsOf(AccountRow, 'a')}
    FROM sessions s JOIN accounts a ON a.id = s.account_id WHERE s.token_hash = $1`,
);

type SessionAndAccount = Attributes<AccountRow> & { sessionId: string; begun: Date; lastSeen: Date };

/** Who a cookie's token belongs to, or undefined. */
export async function signedIn(context: Context, token: string | undefined): Promise<SignedIn | undefined> {
  if (token === undefined || !/^[\w-]{43}$/.test(token)) return undefined;
  const hash = tokenHash(Buffer.from(token, 'base64url'));
  const [row] = await askedOften<SessionAndAccount>(context.db, ACCOUNT_OF_TOKEN(), [hash]);
  if (row === undefined) return undefined;
  const { sessionId, begun, lastSeen, ...account } = row;
  const now = context.clock();
  const idle = now.getTime() - lastSeen.getTime();
  if (idle > SESSION_IDLE_MS || now.getTime() - begun.getTime() > SESSION_LIFE_MS) {
    await run(context.db, 'DELETE FROM sessions WHERE id = $1', [sessionId]);
    return undefined;
  }
  if (idle > SEEN_EVERY_MS)
    await run(context.db, 'UPDATE sessions SET last_seen_at = $2 WHERE id = $1', [sessionId, now]);
  if (account.endedAt != null) return undefined;
  return { account: AccountRow.build(account, { isNewRecord: false, raw: true }), session: { id: sessionId } };
}

export const endSession = (context: Context, { account, session }: SignedIn): Promise<void> =>
  telling(context, { kind: 'signed-out', actor: byAccount(account.id) }, async (transaction) => {
    await run(context.db, 'DELETE FROM sessions WHERE id = $1', [session.id], transaction);
  });

/** Signs an account out on every device; how many there were. */
export const endSessions = (context: Context, accountId: string, transaction?: Transaction): Promise<number> =>
  run(context.db, 'DELETE FROM sessions WHERE account_id = $1', [accountId], transaction);

export const endOtherSessions = (context: Context, { account, session }: SignedIn): Promise<number> =>
  telling(
    context,
    { kind: 'sessions-ended', actor: byAccount(account.id), about: { account: account.id } },
    (transaction) =>
      run(context.db, 'DELETE FROM sessions WHERE account_id = $1 AND id <> $2', [account.id, session.id], transaction),
  );
