/** How the outside world behaves, for trying out what the office does when things go wrong. */
import { z } from 'zod';

export const behaviourSchema = z.object({
  /** `refuse`: a permanent no; `bounce`: yes, and a failed delivery report afterwards; `down`: a temporary no. */
  mail: z.enum(['deliver', 'junk', 'slow', 'refuse', 'bounce', 'down']),
  phone: z.enum(['deliver', 'slow', 'refuse', 'down']),
});
export type Behaviour = z.infer<typeof behaviourSchema>;

export const SLOW_MS = 4_000;
export const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** Mailboxes that behave in one way whatever the switch says, so that one recipient can fail among others. */
export function behaviourOf(address: string, behaviour: Behaviour): Behaviour['mail'] {
  const local = address.slice(0, address.lastIndexOf('@'));
  if (local === 'moved-away') return 'bounce';
  if (local === 'no-such-person') return 'refuse';
  return behaviour.mail;
}
