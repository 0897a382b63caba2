/** What the reading room's page and the server say to each other. */
import { WAYS_KNOWN } from '@under-lock/core/handling/handling';
import { z } from 'zod';
import { confirmSchema, handlingSchema, USES } from './access';
import { bytes, endpoint, id, instant, line, rawBytes } from './endpoint';
import { LOOK_PATH, PASSCODE_PATH } from './room-paths';

const params = z.object({ id });

export const roomSchema = z.discriminatedUnion('state', [
  z.object({
    state: z.literal('held'),
    officeName: z.string(),
    /** The office's own, of the band above. */
    colour: z.string(),
    senderName: z.string(),
    senderAddress: z.string(),
    zone: z.string(),
    closesAt: instant,
    /** The content travels as a file, which the reader has. */
    carried: z.boolean(),
    check: z.object({
      kind: z.enum(WAYS_KNOWN).exclude(['account']),
      hint: z.string(),
      question: bytes(0, 1000).optional(),
      /** The one-time password was used: there is another one only from the sender. */
      used: z.boolean().optional(),
    }),
    /** The identity check was passed in this browser and still counts. */
    identified: z.boolean(),
  }),
  z.object({
    state: z.enum(['closed', 'withdrawn']),
    officeName: z.string(),
    colour: z.string(),
    senderName: z.string(),
    senderAddress: z.string(),
    zone: z.string(),
    endedAt: instant,
  }),
]);
export type Room = z.infer<typeof roomSchema>;

/** Reads only: a mail scanner that follows the link changes and spends nothing. */
export const lookAtRoom = endpoint({
  method: 'GET',
  path: LOOK_PATH,
  access: 'anybody',
  params,
  reply: roomSchema,
});
export const sendPasscode = endpoint({
  method: 'POST',
  path: PASSCODE_PATH,
  access: 'anybody',
  params,
  body: z.object({ proof: bytes(16, 16) }),
  reply: z.object({ resendAt: instant, expiresAt: instant }),
});
export const enterPasscode = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/session',
  access: 'anybody',
  params,
  body: z.object({
    proof: bytes(16, 16),
    passcode: z
      .string()
      .regex(/^\d{6}$/)
      .optional(),
    answerProof: bytes(16, 16).optional(),
    toldProof: bytes(16, 16).optional(),
  }),
});
export const sayNotForMe = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/not-for-me',
  access: 'anybody',
  params,
  body: z.object({ proof: bytes(16, 16) }),
});
/** "I can't get at that phone": the sender is told and decides. */
export const askOtherWay = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/other-way',
  access: 'anybody',
  params,
  body: z.object({ proof: bytes(16, 16), wish: line(200) }),
});
/** Saving and printing are asked for, so that the sender can see them; refused when the handling forbids them. */
export const recordRoomUse = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/use',
  access: 'reader',
  params,
  body: z.object({ what: z.enum(USES) }),
});
/** The reader has read it. @see conflict where nobody asks */
export const confirmRoom = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/confirm',
  access: 'reader',
  params,
  reply: z.object({ at: instant }),
});
/** Releases the house's half and counts as an opening. */
export const openRoom = endpoint({
  method: 'POST',
  path: '/room/api/grants/:id/open',
  access: 'reader',
  params,
  reply: z.object({
    messageId: id,
    houseShare: bytes(32, 32),
    wrappedKey: bytes(61, 61),
    size: z.number().int(),
    reader: z.object({ name: z.string(), address: z.string() }),
    handling: handlingSchema,
    carried: z.boolean(),
    confirm: confirmSchema,
    /** They may say how they want to be written to. */
    choose: z.boolean(),
    openedBefore: z.number().int(),
  }),
});
export const getRoomPart = endpoint({
  method: 'GET',
  path: '/room/api/grants/:id/parts/:index',
  access: 'reader',
  params: z.object({ id, index: z.coerce.number().int().min(0).max(1000) }),
  reply: rawBytes,
});
export const leaveRoom = endpoint({ method: 'DELETE', path: '/room/api/grants/:id/session', access: 'reader', params });
