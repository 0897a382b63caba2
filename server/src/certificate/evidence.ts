/** Revocation lists, OCSP answers and issuers' certificates, fetched once for all browsers and kept until their next update. Nothing here is believed: signatures are checked where it is judged. */
import { createHash } from 'node:crypto';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { fetchOutside, WebError } from './web';

type Kind = 'list' | 'answer' | 'issuer';
const MAX_BYTES: Record<Kind, number> = { list: 24 * 1024 * 1024, answer: 256 * 1024, issuer: 256 * 1024 };
const HOUR = 3_600_000;
/** However long something says it is good for, it is asked for again within a day: revocations are to arrive. */
const LONGEST_MS = 24 * HOUR;
const FAILED_MS = 5 * 60_000;

interface Wanted { kind: Kind; url: string; request?: Uint8Array }

const keyOf = ({ kind, url, request }: Wanted): string => createHash('sha256').update(JSON.stringify([kind, url])).update(request ?? '').digest('hex');

/** @throws ThreadError when it is not what it should be, or can't be read in the time there is */
const nextUpdate = (context: Context, kind: Kind, bytes: Uint8Array): Promise<Date | undefined> => (kind === 'issuer' ? Promise.resolve(undefined) : context.threads.run('nextUpdate', { kind, bytes }));

async function fetched(context: Context, wanted: Wanted): Promise<{ bytes: Buffer | null; freshUntil: Date }> {
  const now = context.clock().getTime();
  try {
    const bytes = await fetchOutside(context, wanted.url, MAX_BYTES[wanted.kind], wanted.request === undefined ? {} : { method: 'POST', headers: { 'Content-Type': 'application/ocsp-request' }, body: new Uint8Array(wanted.request) });
    const next = (await nextUpdate(context, wanted.kind, bytes))?.getTime() ?? now + LONGEST_MS;
    return { bytes, freshUntil: new Date(Math.min(Math.max(next, now + FAILED_MS), now + LONGEST_MS)) };
  } catch (error) {
    context.log.info('evidence', { url: wanted.url.slice(0, 200), failed: error instanceof WebError ? error.message : 'not readable' });
    return { bytes: null, freshUntil: new Date(now + FAILED_MS) };
  }
}

async function one(context: Context, wanted: Wanted): Promise<Uint8Array<ArrayBuffer> | undefined> {
  const key = keyOf(wanted);
  const [kept] = await rows<{ bytes: Buffer | null; fresh_until: Date }>(context.db, 'SELECT bytes, fresh_until FROM evidence WHERE key = $1', [key]);
  if (kept !== undefined && kept.fresh_until > context.clock()) return kept.bytes === null ? undefined : new Uint8Array(kept.bytes);
  const { bytes, freshUntil } = await fetched(context, wanted);
  // What was had before is better than nothing, and says itself how old it is.
  const best = bytes ?? kept?.bytes ?? null;
  await run(
    context.db, 'INSERT INTO evidence (key, kind, url, bytes, fetched_at, fresh_until) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT (key) DO UPDATE SET bytes = $4, fetched_at = $5, fresh_until = $6',
    [key, wanted.kind, wanted.url, best, context.clock(), freshUntil],
  );
  return best === null ? undefined : new Uint8Array(best);
}

export interface EvidenceWanted { lists: readonly string[]; issuers: readonly string[]; questions: readonly { url: string; request: Uint8Array }[] }

export async function getEvidence(context: Context, { lists, issuers, questions }: EvidenceWanted) {
  const failed = new Set<string>();
  const all = async (wanted: readonly Wanted[]): Promise<Uint8Array<ArrayBuffer>[]> => (await Promise.all(wanted.map(async (item) => {
    const bytes = await one(context, item);
    if (bytes === undefined) failed.add(item.url);
    return bytes;
  }))).filter((bytes) => bytes !== undefined);
  const [ofLists, ofIssuers, ofAnswers] = await Promise.all([
    all([...new Set(lists)].map((url) => ({ kind: 'list', url }))), all([...new Set(issuers)].map((url) => ({ kind: 'issuer', url }))), all(questions.map(({ url, request }) => ({ kind: 'answer', url, request }))),
  ]);
  return { lists: ofLists, issuers: ofIssuers, answers: ofAnswers, failed: [...failed] };
}

const KEEP_MS = 30 * 24 * HOUR;
/** Drops what nobody has asked for in a month. */
export const tidyEvidence = (context: Context): Promise<unknown> => run(context.db, 'DELETE FROM evidence WHERE fetched_at < $1', [new Date(context.clock().getTime() - KEEP_MS)]);
