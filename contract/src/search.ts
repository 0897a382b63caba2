/** What searching needs of the server: sealed words, what is still held, and what is known of state. */
import { LOCKS } from '@under-lock/core/locks/index';
import { MAX_SEALED_WORDS } from '@under-lock/core/search/words';
import { z } from 'zod';
import { bytes, endpoint, id, instant, listOf } from './endpoint';

const MOST_AT_ONCE = 100;
const several = z.array(id).max(MOST_AT_ONCE);

/** The sealed words of these messages, as far as there are any; and which of these accesses are still held. */
export const fetchWords = endpoint({
  method: 'POST',
  path: '/api/search/words',
  access: 'worker',
  maxBytes: 64 * 1024,
  body: z.object({ sent: several, mails: several, held: several }),
  reply: z.object({
    sent: z.array(z.object({ id, sealed: bytes(29, MAX_SEALED_WORDS) })),
    mails: z.array(z.object({ id, sealed: bytes(29, MAX_SEALED_WORDS) })),
    held: z.array(id),
  }),
});

export const STATES = ['open', 'unopened', 'bounced'] as const;
/** In which state a sent message can be looked for. */
export type State = (typeof STATES)[number];

/** Sent messages of which all of this is so. `closingBefore`: somebody can read it still, and the last loses it before then. */
export const findByState = endpoint({
  method: 'GET',
  path: '/api/search/state',
  access: 'worker',
  query: z.object({
    states: listOf(z.enum(STATES), 10).optional(),
    locks: listOf(z.enum(LOCKS), 10).optional(),
    closingBefore: instant.optional(),
  }),
  reply: z.object({ ids: z.array(id) }),
});
