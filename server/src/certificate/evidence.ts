/**
 * Revocation lists, OCSP answers and issuers' certificates, fetched once for all browsers and kept until their next
 * update. Nothing here is believed: signatures are checked where it is judged.
 */
import { createHash } from 'node:crypto';
import { type Context } from '../context';
import { takeTry } from '../limits/throttle';
import { rows, run } from '../data/database';
import { Problem } from '../problem';
import { fetchOutside, WebError } from './web';

type Kind = 'list' | 'answer' | 'issuer';
const MAX_BYTES: Record<Kind, number> = { list: 24 * 1024 * 1024, answer: 256 * 1024, issuer: 256 * 1024 };
const HOUR = 3_600_000;
/** However long something says it is good for, it is asked for again within a day: revocations are to arrive. */
const LONGEST_MS = 24 * HOUR;
const FAILED_MS = 5 * 60_000;

interface Wanted {
  kind: Kind;
  url: string;
  request?: Uint8Array;
}

const keyOf = ({ kind, url, request }: Wanted): string =>
  createHash('sha256')
    .update(JSON.stringify([kind, url]))
    .update(request ?? '')
    .digest('hex');

/** @throws ThreadError when it is not what it should be, or can't be read in the time there is */
const nextUpdate = (context: Context, kind: Kind, bytes: Uint8Array): Promise<Date | undefined> =>
  kind === 'issuer' ? Promise.resolve(undefined) : context.threads.run('nextUpdate', { kind, bytes });

async function fetched(context: Context, wanted: Wanted): Promise<{ bytes: Buffer | null; freshUntil: Date }> {
  const now = context.clock().getTime();
  try {
    const bytes = await fetchOutside(
      context,
      wanted.url,
      MAX_BYTES[wanted.kind],
      wanted.request === undefined
        ? {}
        : {
            method: 'POST',
            headers: { 'Content-Type': 'application/ocsp-request' },
            body: new Uint8Array(wanted.request),
          },
    );
    const next = (await nextUpdate(context, wanted.kind, bytes))?.getTime() ?? now + LONGEST_MS;
    return { bytes, freshUntil: new Date(Math.min(Math.max(next, now + FAILED_MS), now + LONGEST_MS)) };
  } catch (error) {
    context.log.info('evidence', {
      url: wanted.url.slice(0, 200),
      failed: error instanceof WebError ? error.message : 'not readable',
    });
    return { bytes: null, freshUntil: new Date(now + FAILED_MS) };
  }
}

/** Asked for by several browsers at once, fetched once. */
const underWay = new Map<string, Promise<Uint8Array<ArrayBuffer> | undefined>>();

function one(
  context: Context,
  wanted: Wanted,
  mayFetch: () => Promise<boolean>,
): Promise<Uint8Array<ArrayBuffer> | undefined> {
  const key = keyOf(wanted);
  const begun = underWay.get(key);
  if (begun !== undefined) return begun;
  const asked = fetchedOnce(context, wanted, key, mayFetch).finally(() => underWay.delete(key));
  underWay.set(key, asked);
  return asked;
}

async function fetchedOnce(
  context: Context,
  wanted: Wanted,
  key: string,
  mayFetch: () => Promise<boolean>,
): Promise<Uint8Array<ArrayBuffer> | undefined> {
  const [kept] = await rows<{ bytes: Buffer | null; fresh_until: Date }>(
    context.db,
    'SELECT bytes, fresh_until FROM evidence WHERE key = $1',
    [key],
  );
  if (kept !== undefined && kept.fresh_until > context.clock())
    return kept.bytes === null ? undefined : new Uint8Array(kept.bytes);
  if (!(await mayFetch())) return kept?.bytes == null ? undefined : new Uint8Array(kept.bytes);
  const { bytes, freshUntil } = await fetched(context, wanted);
  // What was had before is better than nothing, and says itself how old it is.
  const best = bytes ?? kept?.bytes ?? null;
  await run(
    context.db,
    'INSERT INTO evidence (key, kind, url, bytes, fetched_at, fresh_until) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT (key) DO UPDATE SET bytes = $4, fetched_at = $5, fresh_until = $6',
    [key, wanted.kind, wanted.url, best, context.clock(), freshUntil],
  );
  return best === null ? undefined : new Uint8Array(best);
}

export interface EvidenceWanted {
  lists: readonly string[];
  issuers: readonly string[];
  questions: readonly { url: string; request: Uint8Array }[];
}

/**
 * What one call carries, and what one account may have fetched anew in an hour. What goes beyond it is named among what
 * could not be had.
 */
const MAX_CALL_BYTES = 48 * 1024 * 1024;
const FETCHES_AN_HOUR = 300;
const AT_ONCE = 4;

/** Whether this account may have one more thing fetched. */
async function mayFetch(context: Context, accountId: string): Promise<boolean> {
  const hour = Math.floor(context.clock().getTime() / HOUR);
  return takeTry(context, [
    {
      purpose: 'evidence',
      who: `${accountId}/${hour}`,
      free: FETCHES_AN_HOUR - 1,
      firstWaitMs: HOUR,
      longestWaitMs: HOUR,
    },
  ]).then(
    () => true,
    (error: unknown) => {
      if (!(error instanceof Problem)) throw error;
      return false;
    },
  );
}

export async function getEvidence(context: Context, accountId: string, { lists, issuers, questions }: EvidenceWanted) {
  const failed = new Set<string>();
  let room = MAX_CALL_BYTES;
  const had: Record<Kind, Uint8Array<ArrayBuffer>[]> = { list: [], answer: [], issuer: [] };
  // Small things first: a list that takes all the room must not keep an answer out.
  const wanted: Wanted[] = [
    ...[...new Set(issuers)].map((url): Wanted => ({ kind: 'issuer', url })),
    ...questions.map(({ url, request }): Wanted => ({ kind: 'answer', url, request })),
    ...[...new Set(lists)].map((url): Wanted => ({ kind: 'list', url })),
  ];
  for (let at = 0; at < wanted.length; at += AT_ONCE) {
    await Promise.all(
      wanted.slice(at, at + AT_ONCE).map(async (item) => {
        const bytes = room <= 0 ? undefined : await one(context, item, () => mayFetch(context, accountId));
        room -= bytes?.length ?? 0;
        if (bytes === undefined || room < 0) failed.add(item.url);
        else had[item.kind].push(bytes);
      }),
    );
  }
  return { lists: had.list, issuers: had.issuer, answers: had.answer, failed: [...failed] };
}

const KEEP_MS = 30 * 24 * HOUR;
/** Drops what nobody has asked for in a month. */
export const tidyEvidence = (context: Context): Promise<unknown> =>
  run(context.db, 'DELETE FROM evidence WHERE fetched_at < $1', [new Date(context.clock().getTime() - KEEP_MS)]);
