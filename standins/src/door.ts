/** The outside world by HTTP: the phone operator's gateway for texts, and windows into mailboxes and phones. */
import { hostOf } from '@under-lock/core/people/address';
import { type DkimKey, type Entry, entrySchema } from './dns';
import { defined } from '@under-lock/core/defined';
import Router, { type RouterContext } from '@koa/router';
import { randomUUID } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import { type AddressInfo } from 'node:net';
import { messageIdsIn } from '@under-lock/core/message/read';
import Koa from 'koa';
import PostalMime, { type Address } from 'postal-mime';
import { z } from 'zod';
import { type Behaviour, behaviourSchema, pause, SLOW_MS } from './behaviour';
import { type Authorities, hasCertificate } from './authority/authorities';
import { certificateRoutes } from './authority/door';
import { LetterError, openedOutside, type ProgramMeans, writeLetter } from './mail-program';
import { openPgpRoutes } from './openpgp/door';
import { type Keyring, usesOpenPgp } from './openpgp/keyring';
import { toOffice } from './mail-host';
import { type Store, type StoredMail } from './store';
import { demoMailboxes, demoPhones } from './people';

const textSchema = z.object({ to: z.string().regex(/^\+[1-9]\d{4,14}$/), text: z.string().min(1).max(1000) });
const permitSchema = textSchema.pick({ to: true });
const handedInSchema = z.object({ permit: z.string().max(100), text: z.string().min(1).max(1000) });
const PERMIT_MS = 600_000;
const callSchema = z.object({
  to: z.string().regex(/^\+[1-9]\d{4,14}$/),
  say: z.string().min(1).max(1000),
  language: z.string().max(20),
});
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
const MAX_BODY = 64 * 1024;

async function json(request: NodeJS.ReadableStream): Promise<unknown> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > MAX_BODY) throw Object.assign(new Error('too large'), { status: 413, expose: true });
    chunks.push(chunk);
  }
  try {
    return JSON.parse(Buffer.concat(chunks).toString('utf8')) as unknown;
  } catch {
    throw Object.assign(new Error('not JSON'), { status: 400, expose: true });
  }
}

function checked<T extends z.ZodType>(schema: T, value: unknown): z.output<T> {
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw Object.assign(new Error(parsed.error.issues[0]!.message), { status: 400, expose: true });
  return parsed.data;
}

const person = (one: Address | undefined): { name: string; address: string } => ({
  name: one?.name ?? '',
  address: one?.address ?? '',
});
const parse = (mail: StoredMail) => PostalMime.parse(Buffer.from(mail.raw, 'base64'), { maxNestingDepth: 20 });

async function listed(store: Store, mail: StoredMail) {
  const { from, subject } = await parse(mail);
  return {
    id: mail.id,
    receivedAt: mail.receivedAt,
    from: person(from),
    subject: subject ?? '',
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

export interface OutsideDoor {
  port: number;
  server: Server;
}

export async function openDoor(options: {
  port: number;
  store: Store;
  behaviour: { current: Behaviour };
  authorities: () => Promise<Authorities>;
  keyring: () => Promise<Keyring>;
  officeDoor: () => { host: string; port: number } | undefined;
  /** What this firm's mail host signs with. */
  signingKey: (domain: string) => Promise<DkimKey | undefined>;
  enter: (entry: Entry) => void;
}): Promise<OutsideDoor> {
  const { store, behaviour } = options;
  const router = new Router();
  const seen = new Map<string, true>();

  const ring = async (
    http: RouterContext,
    arrive: (at: { id: string; at: string }, body: unknown) => void,
  ): Promise<void> => {
    const mode = behaviour.current.phone;
    if (mode === 'slow') await pause(SLOW_MS);
    if (mode === 'down') http.throw(503, 'the gateway is down');
    if (mode === 'refuse') http.throw(422, 'this number can’t be reached');
    const body = await json(http.req);
    const key = http.get('Idempotency-Key') || randomUUID();
    if (!seen.has(key)) arrive({ id: randomUUID(), at: new Date().toISOString() }, body);
    seen.set(key, true);
    http.status = 202;
    http.body = {};
  };
  router.post('/texts', (http) =>
    ring(http, (at, body) => {
      const { to, text } = checked(textSchema, body);
      store.addText({ ...at, number: to, text });
    }),
  );
  // Leave for one text to one number, to be handed in by whoever has it: the office's server need not see what stands
  // in it.
  const permits = new Map<string, { to: string; until: number }>();
  router.post('/texts/permits', async (http) => {
    if (behaviour.current.phone === 'down') http.throw(503, 'the gateway is down');
    const { to } = checked(permitSchema, await json(http.req));
    const permit = randomUUID();
    permits.set(permit, { to, until: Date.now() + PERMIT_MS });
    http.body = { url: `http://${http.host}/texts/handed-in`, permit };
  });
  router.post('/texts/handed-in', async (http) => {
    const { permit, text } = checked(handedInSchema, await json(http.req));
    const known = permits.get(permit);
    if (behaviour.current.phone === 'down') http.throw(503, 'the gateway is down');
    if (behaviour.current.phone === 'refuse') http.throw(422, 'this number can’t be reached');
    if (known === undefined || known.until < Date.now()) return http.throw(403, 'no such permit');
    permits.delete(permit);
    store.addText({ id: randomUUID(), at: new Date().toISOString(), number: known.to, text });
    http.status = 202;
    http.body = {};
  });
  router.post('/calls', (http) =>
    ring(http, (at, body) => {
      const { to, say } = checked(callSchema, body);
      store.addText({ ...at, number: to, text: say, spoken: true });
    }),
  );
  router.post('/names', async (http) => {
    options.enter(entrySchema.parse(await json(http.req)));
    http.status = 204;
  });
  router.get('/mailboxes', (http) => {
    const addresses = [...new Set([...demoMailboxes, ...store.mails.map(({ mailbox }) => mailbox)])];
    http.body = {
      mailboxes: addresses.map((address) => {
        const mails = store.mails.filter(({ mailbox }) => mailbox === address);
        const latest = mails.at(-1)?.receivedAt;
        return {
          address,
          count: mails.length,
          unread: mails.filter(({ id }) => !store.read.has(id)).length,
          junk: mails.filter(({ junk }) => junk).length,
          ...defined({ latest }),
        };
      }),
    };
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
  router.put('/mails/:id/read', (http) => {
    if (store.mails.some(({ id }) => id === http.params.id)) store.markRead(http.params.id!);
    http.body = {};
  });
  router.get('/phones', (http) => {
    const numbers = [
      ...new Set([...demoPhones.map(({ number }) => number), ...store.texts.map(({ number }) => number)]),
    ];
    http.body = {
      phones: numbers.map((number) => ({
        number,
        owner: demoPhones.find((phone) => phone.number === number)?.owner ?? '',
        texts: store.texts
          .filter((text) => text.number === number)
          .slice(-50)
          .reverse()
          .map(({ id, at, text, spoken = false }) => ({ id, at, text, spoken })),
      })),
    };
  });
  router.get('/behaviour', (http) => {
    http.body = behaviour.current;
  });
  router.put('/behaviour', async (http) => {
    behaviour.current = checked(behaviourSchema, await json(http.req));
    http.body = behaviour.current;
  });

  certificateRoutes(router, options.authorities);
  openPgpRoutes(router, options.keyring);

  const app = new Koa();
  app.silent = true;
  app.use(async (http, next) => {
    // Windows into a made-up world: any page may look.
    http.set({
      'Access-Control-Allow-Origin': '*',
      'Access-Control-Allow-Methods': 'GET, PUT, POST',
      'Access-Control-Allow-Headers': 'Content-Type',
      'Cache-Control': 'no-store',
    });
    if (http.method === 'OPTIONS') {
      http.status = 204;
      return;
    }
    await next();
  });
  app.use(router.routes());
  const server = createServer(app.callback());
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(options.port, '127.0.0.1', resolve);
  });
  return { port: (server.address() as AddressInfo).port, server };
}
