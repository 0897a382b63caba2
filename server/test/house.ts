/**
 * A whole house for a test: a fresh database on the test cluster, the server and the outside world on free ports,
 * clients that keep cookies.
 */
import { isProblem } from '@under-lock/contract/problem';
import { createClient, type Client } from '@under-lock/contract/client';
import * as accountApi from '@under-lock/contract/account';
import * as messageApi from '@under-lock/contract/outgoing';
import * as roomApi from '@under-lock/contract/room';
import { putBlob } from '@under-lock/contract/transfer';
import { listReceived } from '@under-lock/contract/received';
import { makeKeyPair, sealSummary, sealTo, shareContext } from '@under-lock/core/account/key-pair';
import { type Bytes, flowOf, randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { defined } from '@under-lock/core/defined';
import { type HandlingTerms, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { RECOMMENDED_HASHING } from '@under-lock/core/account/password';
import { answerProof } from '@under-lock/core/identity/answer';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { sealForRoom } from '@under-lock/core/locks/room/seal';
import { type MessageContent } from '@under-lock/core/message/content';
import { outgoingGrant } from '@under-lock/core/outgoing/dispatch';
import { splitFor } from '@under-lock/core/outgoing/split';
import { startWorld, type World } from '@under-lock/standins/world';
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import PostalMime from 'postal-mime';
import { readConfig } from '../src/config';
import { type Log } from '../src/context';
import { invite } from '../src/account/account';
import { rows } from '../src/data/database';
import { openContext, type RunningServer, startServer } from '../src/server';

export const upload = (client: Client, id: string, content: Bytes): Promise<void> =>
  putBlob(client, id, flowOf(content));

export interface House {
  server: RunningServer;
  world: World;
  origin: string;
  databaseUrl: string;
  clock: { now: Date; real: boolean };
  /** A client with a cookie jar of its own. */
  visitor(): Client & { cookies: Map<string, string> };
  worker(name: string, role?: 'worker' | 'administrator'): Promise<Worker>;
  restart(): Promise<void>;
  /** After the server has been stopped. */
  reopen(): Promise<void>;
  stop(): Promise<void>;
}

export interface Worker {
  client: Client & { cookies: Map<string, string> };
  account: accountApi.Account;
  authKey: Bytes;
}

export type KeyPair = Awaited<ReturnType<typeof makeKeyPair>>;

const clusterUrl = (): string => {
  const url = process.env.UNDERLOCK_TEST_CLUSTER;
  if (url === undefined) throw new Error('UNDERLOCK_TEST_CLUSTER is not set; run the tests with npm test');
  return url;
};

const urlOf = (name: string): string => clusterUrl().replace(/\/[^/]*$/, `/${name}`);

async function at<T>(url: string, act: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return await act(client);
  } finally {
    await client.end();
  }
}

const silent: Log = {
  info: () => undefined,
  error: (event, error) =>
    process.env.UNDERLOCK_TEST_LOG &&
    process.stderr.write(`${event} ${error instanceof Error ? error.stack : String(error)}\n`),
};

/** Of every house that names none of its own: its keys are made once for all of them. */
const SECRET = 'A'.repeat(43);

const newName = (): string => `t_${randomUUID().replaceAll('-', '')}`;

/** With nothing in it. */
export async function freshDatabase(): Promise<string> {
  const name = newName();
  await at(clusterUrl(), (client) => client.query(`CREATE DATABASE ${name}`));
  return urlOf(name);
}

/** Brought up to date once for all tests of a run, and copied by each. */
const MODEL = 'migrated_model';
async function makeModel(client: pg.Client): Promise<void> {
  const { rowCount } = await client.query('SELECT 1 FROM pg_database WHERE datname = $1', [MODEL]);
  if (rowCount === 1) return;
  const name = newName();
  await client.query(`CREATE DATABASE ${name}`);
  const { close } = await openContext(readConfig({ DATABASE_URL: urlOf(name), UNDERLOCK_SECRET: SECRET }), silent);
  await close();
  await client.query(`ALTER DATABASE ${name} RENAME TO ${MODEL}`);
}

/** As a server that has started once leaves it; without the keys that are sealed under a secret of its own. */
async function migratedDatabase(withKeys: boolean): Promise<string> {
  const name = newName();
  await at(clusterUrl(), async (client) => {
    // One after another: a database that is copied must have no other guests.
    await client.query('SELECT pg_advisory_lock(8421)');
    await makeModel(client);
    await client.query(`CREATE DATABASE ${name} TEMPLATE ${MODEL}`);
  });
  if (!withKeys) await at(urlOf(name), (client) => client.query('DELETE FROM dkim_keys; DELETE FROM statement_keys'));
  return urlOf(name);
}

/** fetch with cookies (`known` from the start), paths honoured, and the Origin a browser would send. */
export function cookieFetch(
  origin: string,
  known: ReadonlyMap<string, string> = new Map(),
): typeof fetch & { cookies: Map<string, string> } {
  const cookies = new Map(known);
  const fetcher = async (input: string | URL | Request, init: RequestInit = {}): Promise<Response> => {
    const url = new URL(String(input));
    const sent = [...cookies]
      .filter(([key]) => url.pathname.startsWith(key.split(' ')[1]!))
      .map(([key, value]) => `${key.split(' ')[0]}=${value}`);
    const response = await fetch(url, {
      ...init,
      headers: { Origin: origin, ...(init.headers as Record<string, string>), Cookie: sent.join('; ') },
    });
    for (const line of response.headers.getSetCookie()) {
      const [pair, ...attributes] = line.split('; ');
      const [name, value] = pair!.split('=') as [string, string];
      const path = attributes.find((one) => one.toLowerCase().startsWith('path='))?.slice(5) ?? '/';
      if (value === '') cookies.delete(`${name} ${path}`);
      else cookies.set(`${name} ${path}`, value);
    }
    return response;
  };
  return Object.assign(fetcher as typeof fetch, { cookies });
}

export async function openHouse(settings: Record<string, string> = {}): Promise<House> {
  const databaseUrl = await migratedDatabase(settings.UNDERLOCK_SECRET === undefined);
  const world = await startWorld({ smtpPort: 0, httpPort: 0, ...defined({ ready: process.env.UNDERLOCK_TEST_KEYS }) });
  const clock = { now: new Date(), real: true };
  const config = (port: number) =>
    readConfig({
      DATABASE_URL: databaseUrl,
      UNDERLOCK_SECRET: SECRET,
      UNDERLOCK_PORT: String(port),
      UNDERLOCK_SMTP_URL: `smtp://127.0.0.1:${world.smtpPort}`,
      UNDERLOCK_TEXT_URL: `http://127.0.0.1:${world.httpPort}/texts`,
      UNDERLOCK_CALL_URL: `http://127.0.0.1:${world.httpPort}/calls`,
      UNDERLOCK_MAIL_PORT: '0',
      UNDERLOCK_UNDO_SECONDS: '0',
      UNDERLOCK_COMMON_PASSWORDS: '0',
      UNDERLOCK_CODES_A_DAY: '100000',
      UNDERLOCK_OUTSIDE_URL: `http://127.0.0.1:${world.httpPort}`,
      UNDERLOCK_DNS: `127.0.0.1:${world.httpPort}`,
      ...settings,
    });
  const start = (port: number): Promise<RunningServer> =>
    startServer(config(port), silent, () => (clock.real ? new Date() : clock.now));
  const server = await start(0).catch(async (error: unknown) => {
    await world.stop();
    throw error;
  });
  const house = { server } as House;
  const origin = `http://127.0.0.1:${house.server.port}`;
  const visitor = (): House['visitor'] extends () => infer V ? V : never => {
    const fetcher = cookieFetch(origin);
    return Object.assign(createClient(origin, fetcher), { cookies: fetcher.cookies });
  };
  return Object.assign(house, {
    world,
    origin,
    databaseUrl,
    clock,
    visitor,
    async worker(name: string, role: 'worker' | 'administrator' = 'worker'): Promise<Worker> {
      const { token } = await invite(house.server.context, {
        address: `${name}@larkmoor.example`,
        name,
        title: 'test',
        role,
      });
      const client = visitor();
      const authKey = randomBytes(32);
      const wrapped = randomBytes(61);
      const { account } = await client(accountApi.setUpAccount, {
        body: {
          token: new Uint8Array(Buffer.from(token, 'base64url')),
          device: 'test',
          recovery: { authKey: randomBytes(32), wrappedSecret: wrapped },
          password: { hashing: { ...RECOMMENDED_HASHING, salt: randomBytes(16) }, authKey, wrappedSecret: wrapped },
        },
      });
      return { client, account, authKey };
    },
    async restart() {
      const { port } = house.server;
      await house.server.stop();
      house.server = await start(port);
    },
    async reopen() {
      house.server = await start(Number(new URL(origin).port));
    },
    async stop() {
      await house.server.stop();
      await world.stop();
    },
  });
}

/** Gives a colleague the key pair they are sealed to, as the app does at their first sign-in. */
export async function giveKeyPair({ client }: Worker): Promise<KeyPair> {
  const key = await makeKeyPair();
  await client(accountApi.putAccountKey, {
    body: { suite: key.suite, publicKey: key.publicKey, sealedPrivateKey: randomBytes(61) },
  });
  return key;
}

/** Made once: more than one record of the sealed content, and little enough for hundreds of messages. */
const PAPERS = new Uint8Array(100_000).map((_, index) => (index * 31) & 255);

export const demoMessage = (over: Partial<MessageContent> = {}): MessageContent => ({
  messageId: `${randomUUID()}@larkmoor.example`,
  from: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  to: [{ name: 'Pell Anders', address: 'pell.anders@postbox.example' }],
  cc: [],
  subject: 'Fitness papers before the winter season',
  date: new Date(),
  reference: '',
  text: 'The eyesight test of 12 November is on page two.',
  html: '',
  files: [{ name: 'fitness-2026.pdf', type: 'application/pdf', bytes: PAPERS }],
  ...over,
});

export const demoTerms: HandlingTerms = {
  check: 'text',
  question: false,
  rights: { ...NO_RIGHTS, reply: true, copy: true },
  watermark: false,
  copies: false,
  clear: false,
  textOpen: false,
  audience: 'anyone',
};

/** What became of a request: `done`, or the problem's code. */
export const codeOf = (promise: Promise<unknown>): Promise<string> =>
  promise.then(
    () => 'done',
    (error: unknown) => (isProblem(error) ? error.code : String(error)),
  );
/** Likewise, with what the problem says. */
export const answerOf = (promise: Promise<unknown>): Promise<string> =>
  promise.then(
    () => 'done',
    (error: unknown) =>
      isProblem(error) ? `${error.code}: ${error.details.detail ?? error.details.title}` : String(error),
  );

/** What is asked besides, where a handling demands it. */
export const QUESTION = 'Which boat did we meet on?';
export const ANSWER = 'MV Teal';

export interface Prepared {
  id: string;
  content: Bytes;
  body: Parameters<Client>[1] & { body: unknown };
  shares: Map<string, Bytes>;
}

/** Seals a message as the app does and returns the dispatch that is ready to be sent. */
export async function prepare(
  message: MessageContent,
  options: {
    closesAt?: Date;
    phone?: string;
    addresses?: string[];
    terms?: Partial<HandlingTerms>;
    carried?: boolean;
    /** Written to unseen by the others. */ unseen?: readonly string[];
    words?: Uint8Array<ArrayBuffer>;
  } = {},
) {
  const id = randomUUID();
  const contentKey = { key: randomBytes(32), salt: randomBytes(32) };
  const addresses = options.addresses ?? [...message.to, ...message.cc].map(({ address }) => address);
  const content = await sealForRoom(message, contentKey);
  const question = options.terms?.question === true ? { question: { text: QUESTION, answer: ANSWER } } : {};
  const kept = await splitFor(
    { messageId: id, subject: message.subject },
    { key: toBase64Url(contentKey.key), salt: toBase64Url(contentKey.salt) },
    addresses.map((address) => ({
      address,
      name: '',
      role: options.unseen?.includes(address) === true ? ('bcc' as const) : ('to' as const),
      ...(options.carried === true ? { carried: true } : {}),
      reader: { kind: 'link' as const, check: 'text' as const, target: options.phone ?? '+447700900417', ...question },
    })),
    randomUUID,
  );
  const contentBlobId = randomUUID();
  const grants = kept.map((one) => {
    const { reader, ...grant } = outgoingGrant(one);
    if (reader.kind !== 'link' || reader.channel.kind === 'question') throw new Error('Everybody here has a phone');
    return { ...grant, readerShare: reader.readerShare, reader: { ...reader, channel: reader.channel } };
  });
  const closesAt = options.closesAt ?? new Date(Date.now() + 3 * 86_400_000);
  const handling = { closesAt, ...demoTerms, ...options.terms };
  return {
    id,
    content,
    contentKey,
    contentBlobId,
    dispatch: {
      contentBlobId,
      reference: 'CR-2611-204',
      handling,
      ...(handling.clear ? { openReason: 'It is on the notice board' } : {}),
      summary: randomBytes(64),
      ...(options.words === undefined ? {} : { words: options.words }),
      grants,
    },
  };
}

/** Seals, uploads, dispatches. */
export async function send(worker: Worker, message: MessageContent, options: Parameters<typeof prepare>[1] = {}) {
  const prepared = await prepare(message, options);
  await upload(worker.client, prepared.contentBlobId, prepared.content);
  await worker.client(messageApi.dispatchMessage, { params: { id: prepared.id }, body: prepared.dispatch });
  return prepared;
}

/** To a colleague, whose key it is sealed to: it lies in their Received. */
export async function sendToColleague(
  sender: Worker,
  { account }: Worker,
  key: KeyPair,
  over: Parameters<typeof prepare>[1] = {},
  more: { presetId?: string } = {},
): Promise<{ messageId: string; id: string }> {
  const prepared = await prepare(
    demoMessage({ files: [], to: [{ name: account.name, address: account.address }] }),
    over,
  );
  const [{ id, address, name, role, houseShare, wrappedKey, readerShare }] = prepared.dispatch.grants as [
    (typeof prepared.dispatch.grants)[0],
  ];
  const reader = {
    kind: 'account' as const,
    accountId: account.id,
    sealedShare: await sealTo(key, readerShare, shareContext(id)),
    sealedSummary: await sealSummary({ subject: 'Fitness papers' }, readerShare, id),
  };
  await upload(sender.client, prepared.contentBlobId, prepared.content);
  await sender.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, ...more, grants: [{ id, address, name, role, houseShare, wrappedKey, reader }] },
  });
  return { messageId: prepared.id, id };
}

/** What an account's Received holds: accesses and mails. */
export async function receivedOf({ client }: Worker) {
  const { messages, unread } = await client(listReceived);
  return {
    held: messages.flatMap((one) => (one.kind === 'held' ? [one] : [])),
    mails: messages.flatMap((one) => (one.kind === 'mail' ? [one] : [])),
    unread,
  };
}

/** Polls until `find` gives something; fails after `seconds`. */
export async function eventually<T>(find: () => T | undefined | Promise<T | undefined>, seconds = 15): Promise<T> {
  for (let tries = 0; tries < seconds * 20; tries++) {
    const found = await find();
    if (found !== undefined) return found;
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error(`Nothing within ${seconds} s`);
}

/** Until every notice of a message has left: what a test then says of one is not said again by its leaving. */
export async function noticesGone(house: House, messageId: string): Promise<void> {
  await eventually(async () => {
    const waiting = await rows(
      house.server.context.db,
      `SELECT id FROM grants WHERE message_id = $1 AND notice_state = 'waiting'`,
      [messageId],
    );
    return waiting.length === 0 ? true : undefined;
  });
}

/** The link in the newest notice that reached a mailbox. */
export function linkFromMail(
  house: House,
  mailbox: string,
  seconds?: number,
): Promise<{ grantId: string; fragment: string }> {
  return eventually(async () => {
    const mail = house.world.store.mails.filter((one) => one.mailbox === mailbox).at(-1);
    if (mail === undefined) return undefined;
    const { text } = await PostalMime.parse(Buffer.from(mail.raw, 'base64'));
    const match = /\/room\/([\da-f-]{36})#([\w-]{43})/.exec(text ?? '');
    return match === null ? undefined : { grantId: match[1]!, fragment: match[2]! };
  }, seconds);
}

/** Somebody who has proved by a texted passcode, and an answer where one is asked, that an access is theirs. */
export async function identified(
  house: House,
  { id, readerShare }: { id: string; readerShare: Bytes },
  answer?: string,
): Promise<ReturnType<House['visitor']>> {
  const reader = house.visitor();
  const proof = await shareProof(readerShare);
  const before = house.world.store.texts.length;
  await reader(roomApi.sendPasscode, { params: { id }, body: { proof } });
  const passcode = /^\d{6}/.exec(house.world.store.texts[before]!.text)![0];
  const answered = answer === undefined ? {} : { answerProof: await answerProof(answer, readerShare) };
  await reader(roomApi.enterPasscode, { params: { id }, body: { proof, passcode, ...answered } });
  return reader;
}
