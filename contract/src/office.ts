import { z } from 'zod';
import { endpoint } from './endpoint';

/** What everybody's page may know about the office. */
export const officeSchema = z.object({
  name: z.string(),
  mailDomain: z.string(),
  calendar: z.object({ zone: z.string(), dayEnds: z.string(), weekEndsOn: z.number(), maxDays: z.number() }),
  limits: z.object({ maxBytes: z.number(), maxRecipients: z.number() }),
  /** Seconds in which a message that was sent can be taken back. */
  undoSeconds: z.number(),
  /** Days after which an unopened message is put on the desk. */
  unopenedAfterDays: z.number(),
  /** Where the reading room is served. */
  roomOrigin: z.string(),
  /** Where the simulated outside world answers, when it runs. */
  outsideUrl: z.string().optional(),
});
export type Office = z.infer<typeof officeSchema>;

export const getOffice = endpoint({ method: 'GET', path: '/api/office', access: 'anybody', reply: officeSchema });
