/** Windows into the mailboxes of the outside world, and its people's mail programs: what they read, and what they send. */
import { defined } from '@under-lock/core/defined';
import { messageIdsIn } from '@under-lock/core/message/read';
import { hostOf } from '@under-lock/core/people/address';
import type Router from '@koa/router';
import PostalMime, { type Address } from 'postal-mime';
import { z } from 'zod';
import { hasCertificate } from './authority/authorities';
import { checked, json } from './body';
import { type DkimKey } from './dns';
import { toOffice } from './mail-host';
import { LetterError, openedOutside, type ProgramMeans, writeLetter } from './mail-program';
import { usesOpenPgp } from './openpgp/keyring';
import { demoMailboxes } from './people';
import { type Store, type StoredMail } from './store';

const address = z.string().regex(/^[^\s@]{1,64}@[^\s@]{1,190}$/);
const letterSchema = z.object({
  from: address,
  to: address,
  subject: z.string().max(300),
  text: z.string().max(50_000),
  sign: z.boolean(),
  encrypt: z.boolean(),
  by: z.enum(['certificate', 'openpgp']).default('certificate'),
  key: z.boolean().default(false),
  answers: z.array(z.string().max(300)).max(50).default([]),
});

const person = (one: Address | undefined): { name: string; address: string } => ({
  name: one?.name ?? '',
  address: one?.address ?? '',
});
const parse = (mail: StoredMail) => PostalMime.parse(Buffer.from(mail.raw, 'base64'), { maxNestingDepth: 20 });

/** What a list says of a mail, read off it once: whoever waits for one asks again and again. */
const heads = new WeakMap<StoredMail, Promise<{ from: ReturnType<typeof person>; subject: string }>>();
function headOf(mail: StoredMail) {
  const known = heads.get(mail);
  if (known !== undefined) return known;
  const head = parse(mail).then(({ from, subject = '' }) => ({ from: person(from), subject }));
  heads.set(mail, head);
  return head;
}

async function listed(store: Store, mail: StoredMail) {
  return {
    id: mail.id,
    receivedAt: mail.receivedAt,
    ...(await headOf(mail)),
    junk: mail.junk,
    read: store.read.has(mail.id),
    size: Math.floor(mail.raw.length * 0.75),
  };
}

async function whole(mail: StoredMail, means: ProgramMeans) {
  const raw = new Uint8Array(Buffer.from(mail.raw, 'base64'));
  const source = Buffer.from(raw).toString('utf8').slice(0, 100_000);
  const sealed = await openedOutside(raw, mail.mailbox, means);
  if (sealed !== undefined) {
    const {
      opened: { message },
      encrypted,
      signedBy,
      by,
    } = sealed;
    return {
      id: mail.id,
      mailbox: mail.mailbox,
      receivedAt: mail.receivedAt,
      from: message.from,
      to: message.to,
      subject: message.subject,
      text: message.text,
      html: message.html,
      junk: mail.junk,
      source,
      conversation: [...(message.answers ?? []), message.messageId],
      lock: { encrypted, signedBy, by },
      files: message.files.map(({ name, type, bytes }) => ({ name, type, size: bytes.length })),
    };
  }
  const parsed = await parse(mail);
  return {
    id: mail.id,
    mailbox: mail.mailbox,
    receivedAt: mail.receivedAt,
    from: person(parsed.from),
    to: (parsed.to ?? []).map(person),
    subject: parsed.subject ?? '',
    text: parsed.text ?? '',
    html: parsed.html ?? '',
    junk: mail.junk,
    files: parsed.attachments.map((file) => ({
      name: file.filename ?? 'file',
      type: file.mimeType,
      size: (file.content as ArrayBuffer).byteLength,
    })),
    source,
    conversation: messageIdsIn(`${parsed.references ?? ''} ${parsed.messageId ?? ''}`),
  };
}

export interface MailboxOptions extends ProgramMeans {
  store: Store;
  officeDoor: () => { host: string; port: number } | undefined;
  /** What this firm's mail host signs with. */
  signingKey: (domain: string) => Promise<DkimKey | undefined>;
}

const mailboxesOf = ({ mails, read }: Store) =>
  [...new Set([...demoMailboxes, ...mails.map(({ mailbox }) => mailbox)])].map((address) => {
    const own = mails.filter(({ mailbox }) => mailbox === address);
    const latest = own.at(-1)?.receivedAt;
    return {
      address,
      count: own.length,
      unread: own.filter(({ id }) => !read.has(id)).length,
      junk: own.filter(({ junk }) => junk).length,
      ...defined({ latest }),
    };
  });

function listRoutes(router: Router, { store }: MailboxOptions): void {
  router.get('/mailboxes', (http) => {
    http.body = { mailboxes: mailboxesOf(store) };
  });
  router.get('/mailboxes/:address', async (http) => {
    const mails = store.mails
      .filter(({ mailbox }) => mailbox === String(http.params.address).toLowerCase())
      .slice(-100);
    http.body = {
      certificate: hasCertificate(String(http.params.address)),
      openpgp: usesOpenPgp(String(http.params.address)),
      messages: (await Promise.all(mails.map((mail) => listed(store, mail)))).reverse(),
    };
  });
}

function mailRoutes(router: Router, options: MailboxOptions): void {
  const { store } = options;
  router.get('/mails/:id', async (http) => {
    const mail = store.mails.find(({ id }) => id === http.params.id);
    if (mail === undefined) return http.throw(404, 'no such mail');
    http.body = await whole(mail, options);
  });
  router.get('/mails/:id/files/:index', async (http) => {
    const mail = store.mails.find(({ id }) => id === http.params.id);
    const file = mail === undefined ? undefined : (await parse(mail)).attachments[Number(http.params.index)];
    if (file === undefined) return http.throw(404, 'no such file');
    // Saved, never shown: it comes from somebody else.
    http.set({ 'Content-Disposition': 'attachment', 'X-Content-Type-Options': 'nosniff' });
    http.type = 'application/octet-stream';
    http.body = Buffer.from(file.content as ArrayBuffer);
  });
  router.get('/mails/:id/raw', (http) => {
    const mail = store.mails.find(({ id }) => id === http.params.id);
    if (mail === undefined) return http.throw(404, 'no such mail');
    http.type = 'message/rfc822';
    http.body = Buffer.from(mail.raw, 'base64');
  });
  router.put('/mails/:id/read', (http) => {
    if (store.mails.some(({ id }) => id === http.params.id)) store.markRead(http.params.id!);
    http.body = {};
  });
}

function writingRoutes(router: Router, options: MailboxOptions): void {
  router.post('/mails', async (http) => {
    const letter = checked(letterSchema, await json(http.req));
    try {
      const sign = await options.signingKey(hostOf(letter.from));
      await toOffice(options.officeDoor(), letter, await writeLetter(letter, options), sign);
    } catch (error) {
      http.throw(
        422,
        error instanceof LetterError
          ? error.message
          : `the office’s mail host said no: ${((error as { response?: string }).response ?? String(error)).slice(0, 200)}`,
      );
    }
    http.status = 202;
    http.body = {};
  });
}

export function mailboxRoutes(router: Router, options: MailboxOptions): void {
  listRoutes(router, options);
  mailRoutes(router, options);
  writingRoutes(router, options);
}
