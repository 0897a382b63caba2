import { z } from 'zod';
import { endpoint } from './endpoint';

/**
 * A permit for one text message to one number, from the phone door: the browser hands the text in there by itself, so
 * that a password in it never passes this server.
 * @see own-number, too-many-tries, unreachable when the door gives none
 */
export const permitText = endpoint({
  method: 'POST',
  path: '/api/phone/permits',
  access: 'worker',
  byDoor: true,
  body: z.object({ to: z.string().regex(/^\+[1-9]\d{4,14}$/) }),
  reply: z.object({ url: z.url().max(500), permit: z.string().max(500) }),
});
