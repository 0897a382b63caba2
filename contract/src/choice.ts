/** Recipients who choose how they are written to (docs/decisions/29). */
import { MAX_SEALED_CHOICE } from '@under-lock/core/choosing/limits';
import { IDENTITY_CHECKS } from '@under-lock/core/handling/handling';
import { LANGUAGES } from '@under-lock/core/language';
import { CHOICE_WAYS } from '@under-lock/core/ways/chose';
import { z } from 'zod';
import { bytes, endpoint, id, instant } from './endpoint';
import { publicKeySchema } from './keys';

/** `none`: an earlier choice is taken back. */
const way = z.enum([...CHOICE_WAYS, 'none']);
const sealed = bytes(60, MAX_SEALED_CHOICE);
const params = z.object({ id });
export const MOST_KEY_GIVERS = 20;

/** What whoever reads a message needs to choose. @see conflict where readers are not asked */
export const getChoosing = endpoint({
  method: 'GET',
  path: '/room/api/grants/:id/choice',
  access: 'reader',
  params,
  reply: z.object({
    /** What it is sealed to. */
    office: publicKeySchema.extend({ epoch: z.number().int() }),
    /** Logarithm to base 10 of the guesses that the office asks a file's password to stand. */
    leastGuesses: z.number(),
    address: z.string(),
    name: z.string(),
    /** What stands now. */
    chosen: z.object({ way, at: instant }).optional(),
  }),
});
/** Takes the place of an earlier one. @see key-renewed, conflict */
export const putChoice = endpoint({
  method: 'PUT',
  path: '/room/api/grants/:id/choice',
  access: 'reader',
  maxBytes: 300_000,
  params,
  body: z.object({
    /** Its own number, bound into what is sealed. */ id,
    epoch: z.number().int(),
    way,
    language: z.enum(LANGUAGES),
    sealed,
  }),
  reply: z.object({ at: instant }),
});
/** A certificate for the address of whoever reads, by the office's authority. @see invalid-input, too-many-tries */
export const certifyReader = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/certificate',
  access: 'reader',
  params,
  body: z.object({ request: bytes(64, 8_000) }),
  reply: z.object({ certificate: bytes(1, 20_000), chain: z.array(bytes(1, 20_000)).max(10) }),
});

const byLink = { method: 'POST', access: 'anybody', params, body: z.object({ token: bytes(32, 32) }) } as const;
/** What was chosen, for the link in the mail that told of it; changes nothing. @see wrong-link */
export const lookAtChoice = endpoint({
  ...byLink,
  path: '/room/api/choices/:id/look',
  reply: z.object({
    officeName: z.string(),
    colour: z.string(),
    chosen: z.object({ way: z.enum(CHOICE_WAYS), at: instant }),
  }),
});
/** From then on as whoever writes decides. The link has been used. @see wrong-link */
export const takeChoiceBack = endpoint({ ...byLink, path: '/room/api/choices/:id/take-back' });

/** What waits to be taken into the office book, the oldest first. @see not-member */
export const listChoices = endpoint({
  method: 'GET',
  path: '/api/choices',
  access: 'worker',
  reply: z.object({
    choices: z.array(
      z.object({
        id,
        name: z.string(),
        address: z.string(),
        language: z.enum(LANGUAGES),
        way,
        check: z.enum(IDENTITY_CHECKS),
        at: instant,
        epoch: z.number().int(),
        sealed: bytes(60, MAX_SEALED_CHOICE),
      }),
    ),
  }),
});
/** It stands in the office book, or is not wanted there: what was sealed is wiped. @see not-member */
export const settleChoice = endpoint({
  method: 'POST',
  path: '/api/choices/:id/settled',
  access: 'worker',
  params,
  body: z.object({ /** The person in the office book who has it. */ keptAs: id.optional() }),
});
/**
 * Who in the office book gave a certificate or key of their own, the latest first: some of these are still to be
 * compared, and only the book says which. @see not-member
 */
export const listKeyGivers = endpoint({
  method: 'GET',
  path: '/api/choices/keys',
  access: 'worker',
  reply: z.object({ people: z.array(id).max(MOST_KEY_GIVERS) }),
});
