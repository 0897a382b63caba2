/** Mail slots: pages where anybody can leave something under lock (docs/decisions/27). */
import { SLOT_NAME, SLOT_PEOPLE, SLOT_SEALED_BYTES } from '@under-lock/core/slot/limits';
import { z } from 'zod';
import { address, bytes, endpoint, id, instant, line, rawBytes } from './endpoint';
import { publicKeySchema } from './keys';
import { slotPaths } from './slot-paths';

export const SLOT_KINDS = ['office', 'department', 'colleague'] as const;
export type SlotKind = (typeof SLOT_KINDS)[number];

export const mailSlotSchema = z.object({
  id,
  kind: z.enum(SLOT_KINDS),
  /** The office's, the department's or the colleague's. */
  name: z.string(),
  /** What its link ends with. */
  token: z.string(),
  open: z.boolean(),
  /** A sender's mailbox is proved before anything can be left. */
  proves: z.boolean(),
  /** Who has what is left there; `ready` once something can be sealed to them. */
  people: z.array(z.object({ id, name: z.string(), ready: z.boolean() })),
  /** Whoever asks may change it. */
  mine: z.boolean(),
});
export type MailSlot = z.infer<typeof mailSlotSchema>;

/** One's own, those one is behind, and for administrators the office's and all departments'. */
export const listSlots = endpoint({
  method: 'GET',
  path: '/api/slots',
  access: 'worker',
  versioned: true,
  reply: z.object({ slots: z.array(mailSlotSchema) }),
});
/** A new one, open. One's own; the office's and a department's are for administrators. What is there already stays. */
export const makeSlot = endpoint({
  method: 'POST',
  path: '/api/slots',
  access: 'worker',
  body: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('colleague') }),
    z.object({ kind: z.literal('department'), department: line(SLOT_NAME).min(1) }),
    z.object({ kind: z.literal('office'), people: z.array(id).min(1).max(SLOT_PEOPLE) }),
  ]),
  reply: z.object({ id }),
});
export const putSlot = endpoint({
  method: 'PUT',
  path: '/api/slots/:id',
  access: 'worker',
  params: z.object({ id }),
  body: z.object({
    open: z.boolean(),
    proves: z.boolean(),
    /** Of the office's slot. */
    people: z.array(id).min(1).max(SLOT_PEOPLE).optional(),
  }),
});
/** The old link leads nowhere from now on. */
export const renewSlotLink = endpoint({
  method: 'POST',
  path: '/api/slots/:id/link',
  access: 'worker',
  params: z.object({ id }),
  reply: z.object({ token: z.string() }),
});
/**
 * Whether the slot that this mail was left in takes anything more from that address, and which others behind it have
 * answered what was left, the first first.
 */
export const askSlotSender = endpoint({
  method: 'POST',
  path: '/api/incoming/:id/sender',
  access: 'worker',
  params: z.object({ id }),
  body: z.object({ address }),
  reply: z.object({
    blocked: z.boolean(),
    slot: mailSlotSchema.pick({ id: true, name: true, open: true }),
    answers: z.array(z.object({ name: z.string(), at: instant })),
  }),
});
export const putSlotSender = endpoint({
  method: 'PUT',
  path: '/api/incoming/:id/sender',
  access: 'worker',
  params: z.object({ id }),
  body: z.object({ address, blocked: z.boolean() }),
});

const token = z.string().max(60);
const ticket = z.string().regex(/^[\w-]{43}$/);
const solution = z.object({ challenge: bytes(16, 200), solution: bytes(4, 200) });

/** Closed and never made answer alike. */
export const lookAtSlot = endpoint({
  method: 'GET',
  path: slotPaths.look,
  access: 'anybody',
  params: z.object({ token }),
  reply: z.object({
    officeName: z.string(),
    colour: z.string(),
    name: z.string(),
    proves: z.boolean(),
    maxBytes: z.number().int(),
    work: z.object({ challenge: bytes(16, 200), rounds: z.number().int(), bits: z.number().int() }),
  }),
});
/** Six digits to the sender's mailbox. */
export const sendSlotCode = endpoint({
  method: 'POST',
  path: slotPaths.code,
  access: 'anybody',
  params: z.object({ token }),
  body: z.object({ address, language: z.string().max(10), work: solution }),
  reply: z.object({ resendAt: instant, attempt: ticket }),
});
/**
 * Begins to leave something: with the digits where the slot proves mailboxes, else with work. From then on the ticket is
 * all that is asked; `behind` is whom it is to be sealed to.
 */
export const beginLeaving = endpoint({
  method: 'POST',
  path: slotPaths.begin,
  access: 'anybody',
  params: z.object({ token }),
  body: z.object({
    /** Made by whoever leaves it: the same again begins nothing anew. */
    ticket,
    address,
    size: z.number().int().min(1).max(SLOT_SEALED_BYTES),
    language: z.string().max(10),
    code: z.object({ attempt: ticket, digits: z.string().regex(/^\d{6}$/) }).optional(),
    work: solution.optional(),
  }),
  reply: z.object({
    number: z.string(),
    behind: z.array(publicKeySchema.extend({ id })).max(SLOT_PEOPLE),
  }),
});
/** What has arrived of it, for going on after a cut. */
export const getLeaving = endpoint({
  method: 'GET',
  path: slotPaths.left,
  access: 'leaver',
  params: z.object({ ticket: z.string() }),
  reply: z.object({ received: z.array(z.number().int()), leftAt: instant.optional() }),
});
export const putLeftPart = endpoint({
  method: 'PUT',
  path: slotPaths.part,
  access: 'leaver',
  params: z.object({ ticket: z.string(), index: z.coerce.number().int().min(0).max(100) }),
  body: rawBytes,
});
/** Left once, whatever is repeated. */
export const leaveInSlot = endpoint({
  method: 'POST',
  path: slotPaths.left,
  access: 'leaver',
  maxBytes: 256 * 1024,
  params: z.object({ ticket: z.string() }),
  body: z.object({
    left: z
      .array(
        z.object({
          id,
          sealedKey: bytes(60, 2000),
          sealedSummary: bytes(29, 4000),
          sealedAnswer: bytes(29, 1000),
        }),
      )
      .min(1)
      .max(SLOT_PEOPLE),
  }),
  reply: z.object({ leftAt: instant }),
});
