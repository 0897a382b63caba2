/**
 * What the simulated outside world answers: other people's mailboxes and phones. Checked here because it comes from
 * another house.
 */
import { z } from 'zod';

const when = z.iso.datetime().transform((text) => new Date(text));

export const mailboxesSchema = z.object({
  mailboxes: z.array(
    z.object({ address: z.string(), count: z.number(), unread: z.number(), junk: z.number(), latest: when.optional() }),
  ),
});
export const mailListSchema = z.object({
  /** Whether their mail program can sign and decrypt. */
  certificate: z.boolean(),
  /** Likewise with an OpenPGP key. */
  openpgp: z.boolean(),
  messages: z.array(
    z.object({
      id: z.string(),
      receivedAt: when,
      from: z.object({ name: z.string(), address: z.string() }),
      subject: z.string(),
      junk: z.boolean(),
      read: z.boolean(),
      size: z.number(),
    }),
  ),
});
export const mailSchema = z.object({
  id: z.string(),
  /** Whose mailbox it lies in. */ mailbox: z.string(),
  receivedAt: when,
  from: z.object({ name: z.string(), address: z.string() }),
  to: z.array(z.object({ name: z.string(), address: z.string() })),
  subject: z.string(),
  text: z.string(),
  html: z.string(),
  junk: z.boolean(),
  files: z.array(z.object({ name: z.string(), type: z.string(), size: z.number() })),
  source: z.string(),
  /** Message-IDs of the conversation, this mail's last. */
  conversation: z.array(z.string()),
  /** How it was locked, where this mailbox's program could open it. */
  lock: z
    .object({ encrypted: z.boolean(), by: z.enum(['certificate', 'openpgp']), signedBy: z.array(z.string()) })
    .optional(),
});
export const phonesSchema = z.object({
  phones: z.array(
    z.object({
      number: z.string(),
      owner: z.string(),
      texts: z.array(z.object({ id: z.string(), at: when, text: z.string(), spoken: z.boolean() })),
    }),
  ),
});

/** A mail written in a mailbox outside to somebody here. */
export interface Letter {
  from: string;
  to: string;
  subject: string;
  text: string;
  sign: boolean;
  encrypt: boolean;
  by: 'certificate' | 'openpgp';
  /** Their OpenPGP key goes along as a file. */ key: boolean;
  answers: readonly string[];
}

export const MAIL_BEHAVIOURS = ['deliver', 'junk', 'slow', 'refuse', 'bounce', 'down'] as const;
export const PHONE_BEHAVIOURS = ['deliver', 'slow', 'refuse', 'down'] as const;
export const behaviourSchema = z.object({ mail: z.enum(MAIL_BEHAVIOURS), phone: z.enum(PHONE_BEHAVIOURS) });
export type Behaviour = z.infer<typeof behaviourSchema>;
