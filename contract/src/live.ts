/** What a signed-in page is told while it is open: that something of a kind has changed, never what. */
import { z } from 'zod';
import { endpoint, eventStream } from './endpoint';

export const CHANGE_KINDS = ['sent', 'received', 'releases', 'keys', 'account', 'office'] as const;
/** `sent` and `received` are what Mail and the desk show of each; `vault/…` is a kind of the vault's items. */
export type ChangeKind = (typeof CHANGE_KINDS)[number] | `vault/${string}`;

export const isChangeKind = (kind: string): kind is ChangeKind =>
  (CHANGE_KINDS as readonly string[]).includes(kind) || kind.startsWith('vault/');

/** A stream that has said nothing for this long is taken for gone by whoever listens. It says something twice as often. */
export const SILENCE_MS = 40_000;

/** The stream's events. `here` comes first and as a beat; `changed` says of which kinds. */
export const liveEvents = {
  here: z.object({}),
  changed: z.object({ kinds: z.array(z.string().refine(isChangeKind)).max(100) }),
};

/** Server-sent events (HTML Living Standard §9.2) named as in {@link liveEvents}, their data JSON. */
export const listenLive = endpoint({ method: 'GET', path: '/api/live', access: 'worker', reply: eventStream });
