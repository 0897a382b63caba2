/**
 * Request bodies under limits that the contract says. A length that lies is cut off where the limit is; what comes
 * too slowly is ended; and what has begun and not
 * ended, from one place and from all, is counted, so that nobody fills the memory with halves.
 */
import { PART_BYTES } from '@under-lock/contract/blob';
import { type Endpoint, MAX_BODY_DEPTH, rawBytes } from '@under-lock/contract/endpoint';
import { type RouterContext } from '@koa/router';
import { placeOf } from '../account/place';
import { busy, invalid, Problem } from '../problem';

/**
 * A body has this long, and a second more for each sixteen kilobytes it may have: slower lines than that carry no mail.
 */
const PATIENCE_MS = 10_000;
const SLOWEST_BYTES_A_SECOND = 16 * 1024;
/** Octets in memory of bodies that have not ended. */
const MAX_UNFINISHED_BYTES = 256 * 1024 * 1024;
const MAX_UNFINISHED_BYTES_A_PLACE = 64 * 1024 * 1024;
const MAX_UNFINISHED_A_PLACE = 100;

interface Unfinished {
  bodies: number;
  bytes: number;
}

/** What has begun and not ended. One for each server. */
export class BodyBudget {
  private readonly all: Unfinished = { bodies: 0, bytes: 0 };
  private readonly places = new Map<string, Unfinished>();

  /** @throws Problem `busy` */
  begin(place: string): void {
    const here = this.places.get(place) ?? { bodies: 0, bytes: 0 };
    if (here.bodies >= MAX_UNFINISHED_A_PLACE) throw busy();
    here.bodies += 1;
    this.all.bodies += 1;
    this.places.set(place, here);
  }

  /** @throws Problem `busy` */
  add(place: string, bytes: number): void {
    const here = this.places.get(place)!;
    here.bytes += bytes;
    this.all.bytes += bytes;
    if (here.bytes > MAX_UNFINISHED_BYTES_A_PLACE || this.all.bytes > MAX_UNFINISHED_BYTES) throw busy();
  }

  end(place: string, bytes: number): void {
    const here = this.places.get(place)!;
    here.bodies -= 1;
    here.bytes -= bytes;
    this.all.bodies -= 1;
    this.all.bytes -= bytes;
    if (here.bodies === 0) this.places.delete(place);
  }

  get unfinished(): Readonly<Unfinished> {
    return this.all;
  }
}

async function collect(http: RouterContext, limit: number, budget: BodyBudget): Promise<Buffer> {
  const tooLarge = (): Problem => new Problem('too-large', 413, `The request is larger than ${limit} bytes`);
  if (Number(http.get('Content-Length') || 0) > limit) throw tooLarge();
  const place = placeOf(http.ip);
  const chunks: Buffer[] = [];
  let size = 0;
  let late = false;
  budget.begin(place);
  const timer = setTimeout(
    () => {
      late = true;
      http.req.destroy();
    },
    PATIENCE_MS + (limit / SLOWEST_BYTES_A_SECOND) * 1000,
  );
  try {
    for await (const chunk of http.req as AsyncIterable<Buffer>) {
      size += chunk.length;
      budget.add(place, chunk.length);
      if (size > limit) throw tooLarge();
      chunks.push(chunk);
    }
  } catch (error) {
    throw late ? new Problem('too-slow', 408, 'The request came too slowly') : error;
  } finally {
    clearTimeout(timer);
    budget.end(place, size);
  }
  if (late) throw new Problem('too-slow', 408, 'The request came too slowly');
  return Buffer.concat(chunks, size);
}

const [QUOTE, BACKSLASH, OPEN_OBJECT, CLOSE_OBJECT, OPEN_LIST, CLOSE_LIST] = [34, 92, 123, 125, 91, 93];

/** How deep objects and lists lie in one another at most; counted over the octets, before anything is made of them. */
export function depthOf(json: Uint8Array): number {
  let depth = 0;
  let deepest = 0;
  let quoted = false;
  for (let at = 0; at < json.length; at++) {
    const octet = json[at];
    if (quoted) {
      if (octet === BACKSLASH) at += 1;
      else if (octet === QUOTE) quoted = false;
    } else if (octet === QUOTE) quoted = true;
    else if (octet === OPEN_OBJECT || octet === OPEN_LIST) deepest = Math.max(deepest, (depth += 1));
    else if (octet === CLOSE_OBJECT || octet === CLOSE_LIST) depth -= 1;
  }
  return deepest;
}

/** @throws Problem `invalid-input` */
function requireType(http: RouterContext, type: string): void {
  if (http.request.is(type) === false) throw new Problem('invalid-input', 415, `This needs ${type}`);
}

const MAX_PASSED_OVER = 1024;

/**
 * Where nothing is asked, nothing is waited for: what was read about the caller still holds when the answer is made.
 * The `{}` that comes is left unread. @throws Problem `too-large` for more than that, `invalid-input` for what is no JSON
 */
export function passOverBody(http: RouterContext): undefined {
  if (http.get('Transfer-Encoding') !== '' || Number(http.get('Content-Length') || 0) > MAX_PASSED_OVER)
    throw new Problem('too-large', 413, 'Nothing is to be sent here');
  requireType(http, 'application/json');
}

/** @throws Problem `too-large`, `too-slow`, `busy`, `invalid-input` */
export async function readBody(
  http: RouterContext,
  { body, maxBytes }: Pick<Endpoint, 'body' | 'maxBytes'>,
  budget: BodyBudget,
): Promise<unknown> {
  if (body === rawBytes) {
    requireType(http, 'application/octet-stream');
    return collect(http, PART_BYTES, budget);
  }
  requireType(http, 'application/json');
  const octets = await collect(http, maxBytes, budget);
  if (depthOf(octets) > MAX_BODY_DEPTH) throw invalid('The body is nested more deeply than anything we ask for.');
  try {
    return octets.length === 0 ? {} : (JSON.parse(octets.toString('utf8')) as unknown);
  } catch {
    throw invalid('The body is not JSON.');
  }
}
