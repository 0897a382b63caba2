/**
 * An endpoint is said once, here: where it is, who may call it, what goes in and out. The server mounts it, the client
 * calls it.
 */
import { fromBase64Url, toBase64Url, type Bytes } from '@under-lock/core/bytes';
import { z } from 'zod';

// Our pages forbid eval; zod would try it for a faster parser and leave a policy violation in the console.
z.config({ jitless: true });

/**
 * Who may call: `anybody`; a signed-in `worker`; an `administrator`; the `reader` who passed the identity check of
 * the grant named in the path;
 * a `registered` reader who is signed in; the `leaver` who holds the ticket named in the path; the `door` for mail
 * programs.
 */
export type Access = 'anybody' | 'worker' | 'administrator' | 'reader' | 'registered' | 'leaver' | 'door';

export interface Endpoint<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  R extends z.ZodType = z.ZodType,
> {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  /** With `:name` for path parameters. */
  path: string;
  access: Access;
  params: P;
  query: Q;
  /** {@link rawBytes} bodies and replies travel as application/octet-stream, everything else as JSON. */
  body: B;
  /** The most octets a JSON body may have. */
  maxBytes: number;
  reply: R;
  /** Answers carry the account's version; asked with it again, the server says only that nothing has changed. */
  versioned: boolean;
  /** May be called by the door for mail programs in the name of a worker's device. */
  byDoor: boolean;
}

/** Enough for everything that is not a list of people or something sealed. */
export const SMALL_BODY = 16 * 1024;
/** Objects and lists in one another. */
export const MAX_BODY_DEPTH = 24;

export const nothing = z.object({});
/** Marks a body or reply that travels as it is. */
export const rawBytes = z.instanceof(Uint8Array);
/** Marks a reply that goes on: server-sent events. */
export const eventStream = z.never();
type Nothing = typeof nothing;

interface EndpointShape<P, Q, B, R> {
  method: Endpoint['method'];
  path: string;
  access: Access;
  params?: P;
  query?: Q;
  body?: B;
  maxBytes?: number;
  reply?: R;
  versioned?: boolean;
  byDoor?: boolean;
}

export function endpoint<
  P extends z.ZodType = Nothing,
  Q extends z.ZodType = Nothing,
  B extends z.ZodType = Nothing,
  R extends z.ZodType = Nothing,
>(shape: EndpointShape<P, Q, B, R>): Endpoint<P, Q, B, R> {
  return {
    method: shape.method,
    path: shape.path,
    access: shape.access,
    params: shape.params ?? (nothing as unknown as P),
    query: shape.query ?? (nothing as unknown as Q),
    body: shape.body ?? (nothing as unknown as B),
    maxBytes: shape.maxBytes ?? SMALL_BODY,
    reply: shape.reply ?? (nothing as unknown as R),
    versioned: shape.versioned ?? false,
    byDoor: shape.byDoor ?? false,
  };
}

/** Bytes in JSON: base64url without padding, of `min` to `max` octets. */
export const bytes = (min: number, max: number) =>
  z.codec(
    // Its letters are judged where it is decoded: what was encoded here need not be.
    z.string().max(Math.ceil((max * 4) / 3) + 1),
    z.instanceof(Uint8Array).refine((value) => value.length >= min && value.length <= max, `${min} to ${max} bytes`),
    {
      decode: (text, context) => {
        try {
          return fromBase64Url(text);
        } catch {
          context.issues.push({ code: 'custom', message: 'base64url', input: text });
          return z.NEVER;
        }
      },
      encode: (value) => toBase64Url(value as Bytes),
    },
  );

const isoInstant = z.iso.datetime();

/** An instant: ISO 8601 in UTC outside, Date inside. */
export const instant = z.codec(z.string(), z.date(), {
  decode: (text, context) => {
    if (isoInstant.safeParse(text).success) return new Date(text);
    context.issues.push({ code: 'custom', message: 'ISO 8601 in UTC', input: text });
    return z.NEVER;
  },
  encode: (date) => date.toISOString(),
});

export const id = z.uuid();

/** Several in a query, parted by commas. */
export const listOf = <T extends z.ZodType<string>>(of: T, most: number) =>
  z.codec(z.string().max(most * 40), z.array(of).min(1).max(most), {
    decode: (text) => text.split(',') as z.input<typeof of>[],
    encode: (values) => values.join(','),
  });
const MOST_IDS = 50;
export const ids = listOf(id, MOST_IDS);

/** A mail address; its grammar is checked by core where it is entered and again at the server's door. */
export const address = z.string().min(3).max(254);

/** A line shown to people: no control characters, so that it can't break out of a header or a log line. */
export const line = (max: number) =>
  z
    .string()
    .max(max)
    // eslint-disable-next-line no-control-regex
    .regex(/^[^\u0000-\u001f\u007f]*$/, 'no line breaks or control characters');
