import { MAX_SEALED_WORDS } from '@under-lock/core/search/words';
import { RECIPIENT_ROLES } from '@under-lock/core/people/role';
import { WAYS_KNOWN } from '@under-lock/core/handling/handling';
import { presetTermsSchema } from '@under-lock/core/handling/preset';
import { COPY_LOCKS } from '@under-lock/core/locks/index';
import { noticeLookSchema } from '@under-lock/core/notice/look';
import { LANGUAGES } from '@under-lock/core/language';
import { DELIVERY_FORMAT, STATEMENT_FORMAT } from '@under-lock/core/statement/format';
import { z } from 'zod';
import { type Channel, channelSchema, GRANT_STATES, type GrantState, handlingSchema } from './access';
import { incomingMailSchema } from './received';
import { releaseSchema } from './release';
import { ruledSchema } from './rules';
import { address, bytes, endpoint, id, ids, instant, line } from './endpoint';

export { type Channel, channelSchema, GRANT_STATES, type GrantState, handlingSchema };

const readerSchema = z.discriminatedUnion('kind', [
  /** `readerShare` passes through to the notice and is wiped once that is delivered. */
  z.object({
    kind: z.literal('link'),
    channel: channelSchema,
    readerShare: bytes(32, 32),
    language: z.enum(LANGUAGES).optional(),
  }),
  /** A colleague: the share is sealed to their account key, no notice is needed. */
  z.object({ kind: z.literal('account'), accountId: id, sealedShare: bytes(60, 2000), sealedSummary: bytes(29, 2000) }),
  /** A registered reader: the share is sealed to their key, the notice's link carries none. */
  z.object({
    kind: z.literal('registered'),
    readerId: id,
    sealedShare: bytes(60, 2000),
    sealedSummary: bytes(29, 2000),
    language: z.enum(LANGUAGES).optional(),
  }),
]);

const newGrantSchema = z.object({
  id,
  address,
  name: line(200),
  role: z.enum(RECIPIENT_ROLES),
  houseShare: bytes(32, 32),
  wrappedKey: bytes(61, 61),
  reader: readerSchema,
  /** The sealed content travels with the notice, and the room gives none out. Not for colleagues, who get no notice. */ carried:
    z.boolean().optional(),
});
export type NewGrant = z.infer<typeof newGrantSchema>;
export type NewLinkGrant = NewGrant & { reader: { kind: 'link' } };

/** A copy that leaves as a mail of its own, exactly as the blob holds it. */
const newCopySchema = z.object({
  id,
  lock: z.enum(COPY_LOCKS),
  blobId: id,
  recipients: z
    .array(z.object({ id, address, name: line(200), role: z.enum(RECIPIENT_ROLES) }))
    .min(1)
    .max(1000),
});
export type NewCopy = z.infer<typeof newCopySchema>;

export const NOTICE_STATES = ['waiting', 'accepted', 'junk', 'refused', 'bounced'] as const;
export type NoticeState = (typeof NOTICE_STATES)[number];
export const grantSchema = z.object({
  id,
  address: z.string(),
  name: z.string(),
  role: z.enum(RECIPIENT_ROLES),
  state: z.enum(GRANT_STATES),
  closesAt: instant,
  /** When it was closed or withdrawn. */
  endedAt: instant.optional(),
  check: z.object({
    kind: z.enum(WAYS_KNOWN),
    hint: z.string(),
    question: z.boolean(),
    /** Of a one-time password that is told. */
    used: z.boolean().optional(),
  }),
  notice: z.object({ state: z.enum(NOTICE_STATES), at: instant.optional(), answer: z.string().optional() }),
  /** What this person has seen of the message, over all accesses they ever had to it; `here` by this one. */
  opened: z.object({
    count: z.number().int(),
    here: z.number().int(),
    first: instant.optional(),
    last: instant.optional(),
  }),
  /** They pressed that they have read it. */
  confirmedAt: instant.optional(),
  /** Given by a reader who passed it on, and beside whose access it stands. */
  passedOn: z.object({ parentId: id, name: z.string(), address: z.string() }).optional(),
  /** Its content travels as a carried page. */
  carried: z.boolean(),
  /** Of the notices and passcodes. */
  language: z.enum(LANGUAGES),
  wrongTries: z.number().int(),
  pausedUntil: instant.optional(),
  /** The wrong tries are used up: nobody can try until the sender lets them. */
  stopped: z.boolean(),
  /**
   * A registered reader has forgotten their password: it opens for nobody until it is given again. With the time they
   * asked for that.
   */
  lost: z.object({ askedAt: instant.optional() }).optional(),
  /** The reader asked for another way to be known. */
  otherWay: z.object({ at: instant, wish: z.string() }).optional(),
});
export type Grant = z.infer<typeof grantSchema>;

export const sentCopySchema = z.object({
  id,
  lock: z.enum(COPY_LOCKS),
  address: z.string(),
  name: z.string(),
  role: z.enum(RECIPIENT_ROLES),
  state: z.enum(NOTICE_STATES),
  at: instant.optional(),
  answer: z.string().optional(),
});
export type SentCopy = z.infer<typeof sentCopySchema>;

export const EVENT_KINDS = [
  'dispatched',
  /** By somebody else, whom `address` names. */
  'let-go',
  'notice-accepted',
  'notice-junk',
  'notice-refused',
  'notice-bounced',
  'notice-again',
  'passcode-sent',
  'passcode-failed',
  'passcode-wrong',
  'passcode-paused',
  'answer-wrong',
  'passcode-stopped',
  'tries-renewed',
  'replied',
  'passed-on',
  'reminded',
  'receipt-sent',
  'confirmed',
  'chose',
  'opened',
  'saved',
  'printed',
  'not-for-me',
  'other-way-asked',
  'closing-moved',
  'channel-changed',
  'withdrawn',
  'closed',
  'given-again',
  'reader-added',
  'purged',
  'password-lost',
  'give-again-asked',
  'statement-made',
  'delivery-stated',
  'copy-accepted',
  'copy-junk',
  'copy-refused',
  'copy-bounced',
] as const;
export type EventKind = (typeof EVENT_KINDS)[number];
export const eventSchema = z.object({
  id,
  at: instant,
  kind: z.enum(EVENT_KINDS),
  grantId: id.optional(),
  /** True when the recipient had opened it before; said with `withdrawn`. */
  hadOpened: z.boolean().optional(),
  closesAt: instant.optional(),
  /** Whose copy it is about. */
  address: z.string().optional(),
  /** How often, when more than once, the first time at `from` and the last at `at`. */
  times: z.number().int().optional(),
  from: instant.optional(),
});
export type MessageEvent = z.infer<typeof eventSchema>;

export const sentSchema = z.object({
  id,
  conversationId: id,
  /** A request asks for a signed message. */
  purpose: z.enum(['message', 'request']),
  reference: z.string(),
  /** The address it was written from, when that is not the main one. */
  from: z.string().optional(),
  /** The name of the mail program it came by. */
  byProgram: z.string().optional(),
  sentAt: instant,
  size: z.number().int(),
  handling: handlingSchema,
  presetName: z.string(),
  /** What new acts on it are held to: the preset as it was at sending, or as the office said that it counts since. */
  presetTerms: presetTermsSchema.optional(),
  /** Why it left open, in the sender's words. */
  openReason: z.string().optional(),
  /** The rules that acted on it, by name, and what its sender gave as the reason where one asked for it. */
  rules: z.object({ acted: z.array(z.string()), reason: z.string().optional() }).optional(),
  /** Vault item `sent` with the message's id, sealed: subject, keys, shares. */
  summary: bytes(0, 2_000_000),
  grants: z.array(grantSchema),
  /** What went as a copy of their own: nobody can close or withdraw it. */
  copies: z.array(sentCopySchema),
});
export type SentMessage = z.infer<typeof sentSchema>;

export const dispatchMessage = endpoint({
  method: 'POST',
  path: '/api/messages/:id/dispatch',
  access: 'worker',
  byDoor: true,
  maxBytes: 8_000_000,
  params: z.object({ id }),
  body: z.object({
    contentBlobId: id,
    reference: line(100),
    /** Which of the account's addresses it is written from; the main one without it. */
    from: address.optional(),
    handling: handlingSchema,
    presetId: id.optional(),
    /** Why it leaves open; demanded where the handling says that nothing in it is secret. The office can read it. */
    openReason: line(300).optional(),
    /** What is said of the office's rules. Demanded where the office has any. @see rules-changed, breaks-rule */
    ruled: ruledSchema.optional(),
    /** The message this answers, when it answers one. */
    inReplyTo: id.optional(),
    /** Of a mail that a mail program wrote: the Message-IDs it answers, and its own. */
    answers: z.array(line(998)).max(100).optional(),
    mailId: line(998).optional(),
    /** When it is to leave, for sending later; the office's seconds for taking it back pass in any case. */
    leavesAt: instant.optional(),
    summary: bytes(29, 2_000_000),
    /** What of it is searched, sealed for the sender's vault. */
    words: bytes(29, MAX_SEALED_WORDS).optional(),
    /** May be none when everybody gets a copy. */
    grants: z.array(newGrantSchema).max(1000),
    copies: z.array(newCopySchema).max(500).optional(),
    /** Demanded where a rule wants somebody else to let it go. */
    release: releaseSchema.optional(),
  }),
  /**
   * `sentAt` is when it leaves; without it, it waits for somebody else to let it go. `already`: an earlier try of the
   * same dispatch had arrived; nothing was done twice.
   */
  reply: z.object({ sentAt: instant.optional(), already: z.boolean() }),
});
/**
 * Sends the mail that asks somebody for a signed message: signed, readable, and saying nothing else. @see invalid-input
 * when it says anything else
 */
export const sendRequest = endpoint({
  method: 'POST',
  path: '/api/messages/:id/request',
  access: 'worker',
  maxBytes: 3_000_000,
  params: z.object({ id }),
  body: z.object({ contentBlobId: id, summary: bytes(29, 2_000_000), copy: newCopySchema }),
  reply: z.object({ sentAt: instant, already: z.boolean() }),
});
/** Takes a message back that has not left yet: nobody was told, nothing of it stays. @see conflict when it has left */
export const takeBack = endpoint({
  method: 'POST',
  path: '/api/messages/:id/take-back',
  access: 'worker',
  params: z.object({ id }),
});
export const listSent = endpoint({
  method: 'GET',
  path: '/api/messages',
  access: 'worker',
  versioned: true,
  query: z.object({
    before: z.string().max(100).optional(),
    /** Only these, newest first; no page follows. */
    ids: ids.optional(),
    limit: z.coerce.number().int().min(1).max(100).optional(),
  }),
  reply: z.object({ messages: z.array(sentSchema), next: z.string().optional() }),
});
/** Whom the worker has written to in the latest messages: each address once, the latest first. */
export const listWrittenTo = endpoint({
  method: 'GET',
  path: '/api/written-to',
  access: 'worker',
  reply: z.object({ people: z.array(z.object({ address: z.string(), at: instant })) }),
});
/** Who of these was in one message of the account's with another of these, by the keys of their addresses. */
export const listTogether = endpoint({
  method: 'POST',
  path: '/api/written-to/together',
  access: 'worker',
  maxBytes: 400_000,
  body: z.object({ addresses: z.array(address).min(2).max(1_000) }),
  reply: z.object({ addresses: z.array(z.string()) }),
});
export const getSent = endpoint({
  method: 'GET',
  path: '/api/messages/:id',
  access: 'worker',
  byDoor: true,
  versioned: true,
  params: z.object({ id }),
  reply: sentSchema.extend({
    /** The latest; `earlierEvents` is where those before begin. */
    events: z.array(eventSchema),
    earlierEvents: z.string().optional(),
    contentBlobId: id.optional(),
    /** SHA-256 of each notice as it left, by grant. */
    notices: z.array(
      z.object({
        grantId: id,
        sentAt: instant,
        messageId: z.string(),
        sha256: bytes(32, 32),
        /** How the office's notices looked then; ours without one. */ lookId: id.optional(),
        /** Of a carried page, where it was not the usual one. */ extension: z.string().optional(),
        /** It said that answers belong there. */ answerThere: z.boolean(),
      }),
    ),
    looks: z.record(z.string(), noticeLookSchema),
    /**
     * Each mail that left as a copy: what it weighed, the SHA-256 of its bytes, and whom it went to. Its bytes are not
     * kept.
     */
    copyMails: z.array(
      z.object({
        id,
        lock: z.enum(COPY_LOCKS),
        size: z.number().int(),
        sha256: bytes(32, 32),
        mailId: z.string(),
        addresses: z.array(z.string()),
      }),
    ),
  }),
});
/** What happened before a place in the history. */
export const listEvents = endpoint({
  method: 'GET',
  path: '/api/messages/:id/events',
  access: 'worker',
  params: z.object({ id }),
  query: z.object({ before: z.string().max(100).optional() }),
  reply: z.object({ events: z.array(eventSchema), earlier: z.string().optional() }),
});
const forGrants = z.array(id).min(1).max(1000);
export const moveClosing = endpoint({
  method: 'POST',
  path: '/api/messages/:id/closing',
  access: 'worker',
  maxBytes: 64 * 1024,
  params: z.object({ id }),
  body: z.object({ grantIds: forGrants, closesAt: instant }),
  reply: z.object({ moved: z.number() }),
});
export const withdrawGrants = endpoint({
  method: 'POST',
  path: '/api/messages/:id/withdraw',
  access: 'worker',
  maxBytes: 64 * 1024,
  params: z.object({ id }),
  body: z.object({ grantIds: forGrants }),
  reply: z.object({ withdrawn: z.number(), hadOpened: z.number() }),
});
export const tellAgain = endpoint({
  method: 'POST',
  path: '/api/messages/:id/grants/:grantId/notice',
  access: 'worker',
  params: z.object({ id, grantId: id }),
  body: z.object({ readerShare: bytes(32, 32).optional() }),
});
export const changeChannel = endpoint({
  method: 'PUT',
  path: '/api/messages/:id/grants/:grantId/channel',
  access: 'worker',
  params: z.object({ id, grantId: id }),
  body: channelSchema,
});
/** The sender vouches: whoever used up the wrong tries may try again. */
export const renewTries = endpoint({
  method: 'POST',
  path: '/api/messages/:id/grants/:grantId/tries',
  access: 'worker',
  params: z.object({ id, grantId: id }),
});
/** A new grant for somebody whose access ended; the ended one stays in the record. */
export const giveAgain = endpoint({
  method: 'POST',
  path: '/api/messages/:id/grants',
  access: 'worker',
  maxBytes: 3_000_000,
  params: z.object({ id }),
  body: z.object({ replaces: id, grant: newGrantSchema, closesAt: instant, summary: bytes(29, 2_000_000) }),
});

/**
 * Somebody who was not written to, under the message's own handling; instead of an access whose notice could not be
 * delivered, when its address was wrong. @see reads-already
 */
export const addReader = endpoint({
  method: 'POST',
  path: '/api/messages/:id/readers',
  access: 'worker',
  maxBytes: 3_000_000,
  params: z.object({ id }),
  body: z.object({ corrects: id.optional(), grant: newGrantSchema, closesAt: instant, summary: bytes(29, 2_000_000) }),
});

const statedOffice = z.object({ name: z.string(), domain: z.string() });
const statedName = z.object({ name: z.string(), address: z.string() });
const statedMessage = z.object({
  id,
  reference: z.string(),
  sentAt: z.string(),
  sender: statedName,
  contentSha256: z.string().optional(),
});
const statedOpening = z.object({
  count: z.number().int(),
  first: z.string().optional(),
  last: z.string().optional(),
});
const signature = {
  jws: z.string(),
  key: z.object({ kty: z.literal('EC'), crv: z.literal('P-256'), x: z.string(), y: z.string() }),
};

/**
 * What ended, signed by the office; the file's other half, the subject, only the sender has. @see conflict when none of
 * these has ended
 */
export const makeStatement = endpoint({
  method: 'POST',
  path: '/api/messages/:id/statement',
  access: 'worker',
  maxBytes: 64 * 1024,
  params: z.object({ id }),
  body: z.object({ grantIds: forGrants }),
  reply: z.object({
    statement: z.object({
      format: z.literal(STATEMENT_FORMAT),
      id,
      madeAt: z.string(),
      office: statedOffice,
      message: statedMessage,
      ended: z.array(
        z.object({
          id,
          reader: statedName,
          state: z.enum(['withdrawn', 'closed']),
          endedAt: z.string(),
          given: z.literal(false),
          backupsUntil: z.string(),
          opened: statedOpening,
        }),
      ),
      stillOpen: z.number().int(),
    }),
    ...signature,
  }),
});

const telling = { state: z.enum(NOTICE_STATES), at: z.string().optional(), answer: z.string().optional() };
/** Who was told of it, how they were known, who opened it and confirmed that: signed by the office. */
export const makeDeliveryStatement = endpoint({
  method: 'POST',
  path: '/api/messages/:id/delivery',
  access: 'worker',
  params: z.object({ id }),
  reply: z.object({
    statement: z.object({
      format: z.literal(DELIVERY_FORMAT),
      id,
      madeAt: z.string(),
      office: statedOffice,
      message: statedMessage,
      accesses: z.array(
        z.object({
          id,
          reader: statedName,
          told: z.object({ kind: z.enum(['notice', 'list']), ...telling }),
          proof: z.object({ kind: z.enum(WAYS_KNOWN), question: z.boolean() }),
          opened: statedOpening,
          confirmedAt: z.string().optional(),
          state: z.enum(GRANT_STATES),
          until: z.string(),
        }),
      ),
      copies: z.array(z.object({ id, reader: statedName, lock: z.string(), ...telling })),
    }),
    ...signature,
  }),
});

export const NEED_KINDS = [
  'give-again',
  'notice-failed',
  'other-way',
  'passcode-paused',
  'not-opened',
  'closing-unopened',
  'not-for-me',
] as const;
export const getDesk = endpoint({
  method: 'GET',
  path: '/api/desk',
  access: 'worker',
  versioned: true,
  query: z.object({ zone: z.string().max(60).optional() }),
  reply: z.object({
    needs: z.array(
      z.object({
        kind: z.enum(NEED_KINDS),
        messageId: id,
        grant: grantSchema,
        summary: bytes(0, 2_000_000),
        sentAt: instant,
      }),
    ),
    needsTotal: z.number().int(),
    /** Copies that lately did not arrive. */
    copiesFailed: z.array(
      z.object({ messageId: id, copy: sentCopySchema, summary: bytes(0, 2_000_000), sentAt: instant }),
    ),
    /** Signed mail that answers a request of ours, not looked at yet. */
    answers: z.array(incomingMailSchema),
    /** Own certificates that run out within a month. */
    runningOut: z.array(z.object({ fingerprint: z.string(), notAfter: instant, forPrograms: z.boolean() })),
    open: z.array(
      z.object({
        messageId: id,
        sentAt: instant,
        closesAt: instant,
        readers: z.number().int(),
        opened: z.number().int(),
        names: z.array(z.string()),
        summary: bytes(0, 2_000_000),
      }),
    ),
    openTotal: z.number().int(),
    /** Unread in Received. */
    unread: z.number().int(),
    accessTotal: z.number().int(),
    /** Accesses closing per calendar day (`yyyy-MM-dd`) in the asked zone, 30 days from today. */
    closingPerDay: z.array(z.object({ day: z.string(), count: z.number().int() })),
  }),
});
export type Desk = z.infer<(typeof getDesk)['reply'] & z.ZodType>;

/**
 * The newest thing of the account's that a mail with these Message-IDs among those it names answers, and whether it had
 * a lock; nothing where none is known, and nothing of mail that came before that was kept.
 */
export const findAnswered = endpoint({
  method: 'POST',
  path: '/api/answered',
  access: 'worker',
  byDoor: true,
  maxBytes: 400_000,
  body: z.object({ answers: z.array(line(998)).min(1).max(100) }),
  reply: z.object({
    /** `textOpen`: only its files were locked. */
    answered: z.object({ hadLock: z.boolean().optional(), textOpen: z.boolean() }).optional(),
  }),
});

/** One conversation as this account sees it, oldest first: what it sent and what it received. */
export const getConversation = endpoint({
  method: 'GET',
  path: '/api/conversations/:id',
  access: 'worker',
  versioned: true,
  params: z.object({ id }),
  reply: z.object({
    messages: z.array(
      z.discriminatedUnion('kind', [
        z.object({
          kind: z.literal('sent'),
          messageId: id,
          at: instant,
          to: z.array(z.object({ name: z.string(), address: z.string() })),
          summary: bytes(0, 2_000_000),
        }),
        z.object({
          kind: z.literal('received'),
          grantId: id,
          at: instant,
          from: z.object({ name: z.string(), address: z.string() }),
          state: z.enum(GRANT_STATES),
          unread: z.boolean(),
          sealed: z.object({ share: bytes(60, 2000), summary: bytes(29, 2000) }).optional(),
        }),
        z.object({
          kind: z.literal('mail'),
          id,
          at: instant,
          unread: z.boolean(),
          sealedKey: bytes(60, 2000),
          sealedSummary: bytes(29, 4000),
        }),
      ]),
    ),
  }),
});

/** Everybody who can still read something of this account, across messages. */
export const openReaderSchema = z.object({
  address: z.string(),
  name: z.string(),
  accesses: z.number().int(),
  opened: z.number().int(),
  messages: z.number().int(),
  latest: instant,
});
export type OpenReader = z.infer<typeof openReaderSchema>;
export const listReaders = endpoint({
  method: 'GET',
  path: '/api/readers',
  access: 'worker',
  versioned: true,
  reply: z.object({ readers: z.array(openReaderSchema) }),
});
/** What one person can still read of this account's messages, the first to close first. */
export const listAccesses = endpoint({
  method: 'GET',
  path: '/api/readers/accesses',
  access: 'worker',
  versioned: true,
  query: z.object({ address }),
  reply: z.object({
    accesses: z.array(z.object({ messageId: id, sentAt: instant, summary: bytes(0, 2_000_000), grant: grantSchema })),
    total: z.number().int(),
  }),
});
export type Access = z.infer<(typeof listAccesses)['reply'] & z.ZodType>['accesses'][number];
/** Withdraws everything these people can still read of this account's messages, and what they passed on. */
export const withdrawFromReaders = endpoint({
  method: 'POST',
  path: '/api/readers/withdraw',
  access: 'worker',
  maxBytes: 400_000,
  body: z.object({ addresses: z.array(address).min(1).max(1000) }),
  reply: z.object({ withdrawn: z.number().int(), hadOpened: z.number().int(), messages: z.number().int() }),
});
