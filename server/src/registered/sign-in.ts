/**
 * A registered reader's sign-ins: a random token in a cookie, its SHA-256 in the database. What a sign-in opened ends
 * with it.
 */
import { createHash, randomBytes } from 'node:crypto';
import { type Reply } from '@under-lock/contract/client';
import { type listReaderDevices, type RegisteredSession } from '@under-lock/contract/registered';
import { hashingOf, openedBytes } from '../account/credentials';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { ReaderRow } from '../data/models';
import { notFound } from '../problem';
import { type Transaction } from 'sequelize';

/** Many read on borrowed devices: out after two hours without a request, and after a day in any case. */
export const SIGN_IN_IDLE_MS = 2 * 60 * 60_000;
export const SIGN_IN_LIFE_MS = 24 * 60 * 60_000;
const SEEN_EVERY_MS = 60_000;

export interface SignedInReader {
  reader: ReaderRow;
  tokenHash: Buffer;
}

const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest();

/** Returns the token for the cookie. */
export async function startSignIn(
  context: Context,
  readerId: string,
  device: string,
  transaction?: Transaction,
): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await run(
    context.db,
    'INSERT INTO reader_sign_ins (token_hash, reader_id, created_at, last_seen_at, device) VALUES ($1, $2, $3, $3, $4)',
    [hashOf(token), readerId, context.clock(), device],
    transaction,
  );
  return token;
}

export async function signedInReader(context: Context, token: string | undefined): Promise<SignedInReader | undefined> {
  if (token === undefined) return undefined;
  const tokenHash = hashOf(token);
  const now = context.clock();
  const [found] = await rows<{ reader_id: string; last_seen_at: Date }>(
    context.db,
    'SELECT reader_id, last_seen_at FROM reader_sign_ins WHERE token_hash = $1 AND last_seen_at > $2 AND created_at > $3',
    [tokenHash, ...inForce(now)],
  );
  if (found === undefined) return undefined;
  // The list asks every few seconds: noted once a minute.
  if (now.getTime() - found.last_seen_at.getTime() > SEEN_EVERY_MS)
    await run(context.db, 'UPDATE reader_sign_ins SET last_seen_at = $2 WHERE token_hash = $1', [tokenHash, now]);
  const reader = await ReaderRow.findByPk(found.reader_id);
  return reader === null ? undefined : { reader, tokenHash };
}

/** Since when a sign-in has to have been seen, and begun, to be in force. */
const inForce = (now: Date): [Date, Date] => [
  new Date(now.getTime() - SIGN_IN_IDLE_MS),
  new Date(now.getTime() - SIGN_IN_LIFE_MS),
];

export async function listDevices(
  context: Context,
  { reader, tokenHash }: SignedInReader,
): Promise<Reply<typeof listReaderDevices>> {
  return {
    devices: await rows(
      context.db,
      `SELECT id, device, created_at AS "createdAt", last_seen_at AS "lastSeenAt", token_hash = $2 AS here
        FROM reader_sign_ins WHERE reader_id = $1 AND last_seen_at > $3 AND created_at > $4
        ORDER BY here DESC, last_seen_at DESC LIMIT 100`,
      [reader.id, tokenHash, ...inForce(context.clock())],
    ),
  };
}

/** @throws Problem `not-found` */
export async function endDevice(context: Context, { reader }: SignedInReader, id: string): Promise<void> {
  const ended = await run(context.db, 'DELETE FROM reader_sign_ins WHERE reader_id = $1 AND id = $2', [reader.id, id]);
  if (ended === 0) throw notFound('This device');
}

export const endSignIn = (context: Context, { tokenHash }: SignedInReader): Promise<number> =>
  run(context.db, 'DELETE FROM reader_sign_ins WHERE token_hash = $1', [tokenHash]);
export const endOtherSignIns = (context: Context, { reader, tokenHash }: SignedInReader): Promise<number> =>
  run(context.db, 'DELETE FROM reader_sign_ins WHERE reader_id = $1 AND token_hash <> $2', [reader.id, tokenHash]);

export const registeredSession = async (context: Context, reader: ReaderRow): Promise<RegisteredSession> => ({
  reader: { id: reader.id, address: reader.address, name: reader.name },
  language: reader.language,
  unproven: reader.knownBy === null,
  hashing: (await hashingOf(context, 'reader', reader))!,
  wrappedSecret: await openedBytes(context, 'reader', reader.id, 'wrapped-secret', reader.wrappedSecret),
  sealedPrivateKey: await openedBytes(context, 'reader', reader.id, 'private-key', reader.sealedPrivateKey),
  key: { suite: reader.keySuite, publicKey: new Uint8Array(reader.publicKey) },
});
