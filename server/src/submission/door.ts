/** The door for mail programs, as the server knows it: by a word of its own, and by the key that mail is sealed to. */
import { type openDoor as opening } from '@under-lock/contract/submission';
import { type PublicKey } from '@under-lock/core/account/key-pair';
import { type Bytes } from '@under-lock/core/bytes';
import { type RouterContext } from '@koa/router';
import { createHash, timingSafeEqual } from 'node:crypto';
import { type z } from 'zod';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { Problem } from '../problem';

const BEARER = /^Bearer ([\w-]{43})$/;
export const DEVICE_HEADER = 'Under-Lock-Device';

export const callsAsDoor = (http: RouterContext): boolean => http.get('Authorization') !== '';

/** @throws Problem `not-signed-in`, `not-allowed` */
export function requireDoor({ config }: Context, http: RouterContext): void {
  if (!callsAsDoor(http)) throw new Problem('not-signed-in', 401, 'This is for the office’s door for mail programs');
  const said = BEARER.exec(http.get('Authorization'))?.[1];
  const known = config.submissionToken;
  const isIt =
    said !== undefined &&
    known !== undefined &&
    timingSafeEqual(createHash('sha256').update(said).digest(), createHash('sha256').update(known).digest());
  if (!isIt) throw new Problem('not-allowed', 403, 'This is for the office’s door for mail programs');
}

/** With another key than before it is in the office book no longer. */
export async function openDoor(
  { db, clock, config }: Context,
  { suite, publicKey, host, startTls, tls }: z.output<typeof opening.body>,
): Promise<{ maxBytes: number; maxRecipients: number }> {
  await run(
    db,
    `INSERT INTO submission_door (suite, public_key, host, start_tls, tls, seen_at) VALUES ($1, $2, $3, $4, $5, $6)
      ON CONFLICT (only_one) DO UPDATE SET suite = $1, public_key = $2, host = $3, start_tls = $4, tls = $5, seen_at = $6,
        book_key = CASE WHEN submission_door.public_key = $2 THEN submission_door.book_key END`,
    [suite, Buffer.from(publicKey), host, startTls, tls, clock()],
  );
  return config.office.limits;
}

interface DoorRow {
  suite: number;
  public_key: Buffer;
  host: string;
  start_tls: number;
  tls: number;
}

/** Where it stands and what is sealed to it; undefined before it was ever there. */
export async function knownDoor({
  db,
  config,
}: Context): Promise<(PublicKey & { publicKey: Bytes; host: string; startTls: number; tls: number }) | undefined> {
  if (config.submissionToken === undefined) return undefined;
  const [door] = await rows<DoorRow>(db, 'SELECT suite, public_key, host, start_tls, tls FROM submission_door', []);
  return door === undefined
    ? undefined
    : {
        suite: door.suite,
        publicKey: new Uint8Array(door.public_key),
        host: door.host,
        startTls: door.start_tls,
        tls: door.tls,
      };
}
