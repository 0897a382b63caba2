import { noticeLookSchema } from '@under-lock/core/notice/look';
import { z } from 'zod';
import { endpoint, instant } from './endpoint';

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
  /** The office's own words and colour for notices and the reading room. */
  look: noticeLookSchema,
  /** Thumbprint of the key that statements are signed with. */
  statementKey: z.string(),
  /** Where the simulated outside world answers, when it runs. */
  outsideUrl: z.string().optional(),
});
export type Office = z.infer<typeof officeSchema>;

export const getOffice = endpoint({ method: 'GET', path: '/api/office', access: 'anybody', reply: officeSchema });
export const putNoticeLook = endpoint({
  method: 'PUT',
  path: '/api/office/look',
  access: 'administrator',
  maxBytes: 64 * 1024,
  body: noticeLookSchema,
});

/** DKIM: what the office publishes in its DNS, so that mail hosts can tell its mail from somebody else's. */
const signingKeysSchema = z.object({
  keys: z.array(
    z.object({
      selector: z.string(),
      createdAt: instant,
      replacedAt: instant.optional(),
      record: z.object({ name: z.string(), value: z.string() }),
    }),
  ),
});
export type SigningKeys = z.infer<typeof signingKeysSchema>;
export const listSigningKeys = endpoint({
  method: 'GET',
  path: '/api/office/signing-keys',
  access: 'administrator',
  reply: signingKeysSchema,
});
export const replaceSigningKey = endpoint({
  method: 'POST',
  path: '/api/office/signing-keys',
  access: 'administrator',
});

const mailOutcome = z.object({ outcome: z.enum(['accepted', 'refused', 'later']), answer: z.string() });

/** What is set up in this office and what is not yet. `mailTried`: the latest test mail and what the mail host said to it. */
export const getSetup = endpoint({
  method: 'GET',
  path: '/api/office/setup',
  access: 'administrator',
  reply: z.object({
    presets: z.number().int(),
    authorities: z.number().int(),
    colleagues: z.number().int(),
    /** Mail waits where the next host offers no TLS, or shows a wrong certificate. */
    tlsRequired: z.boolean(),
    mailTried: mailOutcome.extend({ at: instant }).optional(),
    recordsPublishedAt: instant.optional(),
  }),
});
export type Setup = z.output<typeof getSetup.reply>;

/** Sends the caller a mail through the office's mail host. */
export const tryMail = endpoint({
  method: 'POST',
  path: '/api/office/setup/mail',
  access: 'administrator',
  reply: mailOutcome,
});
/** As the DNS answers the server: another one is entered, there is none, or nobody answered. */
const RECORD_STATES = ['right', 'other', 'missing', 'unanswered'] as const;
const recordSchema = z.object({
  what: z.enum(['signing-key', 'keys']),
  name: z.string(),
  state: z.enum(RECORD_STATES),
  /** What is entered instead. */
  found: z.string().optional(),
});
export type LookedUpRecord = z.infer<typeof recordSchema>;

/** Asks the DNS for the domain's records. Where all are right, they count as published. */
export const lookUpRecords = endpoint({
  method: 'POST',
  path: '/api/office/setup/records/look',
  access: 'administrator',
  reply: z.object({ records: z.array(recordSchema) }),
});

/** The caller says that the domain's records are published, also where the server does not see them. */
export const sayRecordsPublished = endpoint({
  method: 'POST',
  path: '/api/office/setup/records',
  access: 'administrator',
});
