/**
 * The door's SMTP: submission (RFC 6409) with STARTTLS, and with TLS from the beginning (RFC 8314). Nothing is said of
 * signing in, and nobody is let in, before the line is under TLS. A mail is answered with 250 once it lies at the server.
 */
import { isProblem } from '@under-lock/contract/problem';
import { signInDevice } from '@under-lock/contract/submission';
import { type Bytes } from '@under-lock/core/bytes';
import { Counts } from '@under-lock/core/counts';
import { checkAddress } from '@under-lock/core/people/address';
import { isOwnAddress } from '@under-lock/core/people/own-addresses';
import {
  SMTPServer,
  type SMTPServerAuthentication,
  type SMTPServerDataStream,
  type SMTPServerOptions,
  type SMTPServerSession,
} from 'smtp-server';
import { Budget } from './budget';
import { Collected } from './collected';
import { type Config } from './config';
import { type Door, type Owner, ownerOf } from './house';

export interface Limits {
  /** Of a mail as it is handed in. */
  maxBytes: number;
  maxRecipients: number;
}

/** A mail that was read to its end. */
export interface Taken {
  raw: Bytes;
  to: string[];
}

/** Connections in all. */
const MOST_CLIENTS = 300;
/** Of them, before anybody has signed in, from one place: behind it there may be a whole office. */
const MOST_UNKNOWN = 50;
/** Of them, signed in, of one person. */
const MOST_OF_ONE = 20;
const IDLE_MS = 60_000;
/** Mail in memory, from the first octet until it lies at the server. */
const IN_FLIGHT_BYTES = 200_000_000;

/** RFC 3463 codes stand in the text; mail programs show it word for word. */
const refusal = (responseCode: number, text: string): Error => Object.assign(new Error(text), { responseCode });

const busy = (): Error => refusal(451, '4.3.0 The office can’t be reached at the moment, try again later');

/** What a mail program is told of what went wrong. */
function answerTo({ log }: Door, error: unknown): Error {
  if (error instanceof Error && 'responseCode' in error) return error;
  if (isProblem(error, 'storage-full'))
    return refusal(452, '4.2.2 Too much of your mail is waiting. Look at your drafts');
  if (isProblem(error, 'not-signed-in')) return refusal(535, '5.7.8 This mail program has been ended. Set it up again');
  log.error('submission', error);
  return busy();
}

const owners = new WeakMap<SMTPServerSession, Owner>();

/** Whoever signed in on this connection, asked anew: the device may have ended since. @throws Error */
async function ownerIn(door: Door, session: SMTPServerSession): Promise<Owner> {
  const owner = owners.get(session);
  if (owner === undefined || !session.secure) throw refusal(530, '5.7.0 Sign in first, over an encrypted connection');
  return ownerOf(door, owner.deviceId);
}

async function signIn(
  door: Door,
  { username, password, method }: SMTPServerAuthentication,
  session: SMTPServerSession,
): Promise<Owner> {
  if (!session.secure) throw refusal(538, '5.7.11 Sign in over an encrypted connection only');
  if (method !== 'PLAIN' && method !== 'LOGIN') throw refusal(504, '5.5.4 This way to sign in is not known here');
  try {
    const { deviceId } = await door.client(signInDevice, {
      body: { address: username ?? '', password: password ?? '', place: session.remoteAddress },
    });
    return await ownerOf(door, deviceId);
  } catch (error) {
    if (isProblem(error, 'too-many-tries')) throw refusal(454, '4.7.0 Too many wrong passwords, try again later');
    if (isProblem(error, 'wrong-password', 'invalid-input'))
      throw refusal(535, '5.7.8 The address or the password of this mail program is wrong');
    throw error;
  }
}

async function mayBeSender(door: Door, address: string, session: SMTPServerSession): Promise<void> {
  const { account } = await ownerIn(door, session);
  if (!isOwnAddress(account, address)) throw refusal(550, `5.7.1 ${address || 'An empty sender'} is not your address`);
}

function mayBeRecipient({ maxRecipients }: Limits, address: string, session: SMTPServerSession): void {
  if (session.envelope.rcptTo.length >= maxRecipients)
    throw refusal(452, `4.5.3 At most ${maxRecipients} recipients at once`);
  if (!checkAddress(address).ok) throw refusal(553, `5.1.3 ${address} is not a mail address`);
}

/** All of it, within its budget; what is too large is read to its end and kept nowhere. @throws Error */
async function collected(
  stream: AsyncIterable<Buffer>,
  { maxBytes }: Limits,
  announced: number,
  budget: { take(bytes: number): boolean },
): Promise<Bytes> {
  const kept = new Collected(announced, maxBytes);
  let size = 0;
  let refused: Error | undefined;
  for await (const chunk of stream) {
    size += chunk.length;
    if (size > maxBytes) refused = refusal(552, '5.3.4 Larger than this office takes');
    else if (refused === undefined && !budget.take(chunk.length))
      refused = refusal(452, '4.3.1 Too much mail is coming in at once, try again later');
    if (refused === undefined) kept.add(chunk);
    else kept.drop();
  }
  if (refused !== undefined) throw refused;
  return kept.bytes;
}

/** What the program said that its mail takes (RFC 1870); 0 where it said nothing. */
const announcedIn = ({ envelope: { mailFrom } }: SMTPServerSession): number =>
  mailFrom === false ? 0 : Number((mailFrom.args as { SIZE?: string }).SIZE) || 0;

/** smtp-server names AUTH before TLS whatever it is set to; on a readable line it is neither named nor taken. */
function hideAuthWhileReadable(server: SMTPServer, session: SMTPServerSession): void {
  const connections = (
    server as unknown as { connections: Set<{ id: string; secure: boolean; _isSupported(name: string): boolean }> }
  ).connections;
  for (const connection of connections) {
    if (connection.id !== session.id) continue;
    const isSupported = connection._isSupported.bind(connection);
    connection._isSupported = (name) => (name === 'AUTH' && !connection.secure ? false : isSupported(name));
  }
}

/** Runs `act` and answers with what it throws. */
const answering = (door: Door, act: () => void | Promise<unknown>, callback: (error?: Error | null) => void): void => {
  Promise.resolve()
    .then(act)
    .then(
      () => callback(null),
      (error: unknown) => callback(answerTo(door, error)),
    );
};

interface Shared {
  limits: Limits;
  budget: Budget;
  /** Connections that nobody has signed in on, by place. */
  unknown: Counts;
  /** The others, by account. */
  known: Counts;
  take: Take;
}

const handlers = (door: Door, shared: Shared): SMTPServerOptions => ({
  onConnect(session, callback) {
    if (!shared.unknown.enter(session.id, session.remoteAddress))
      return callback(refusal(421, '4.7.0 Too many connections from your place, try again later'));
    hideAuthWhileReadable(this as unknown as SMTPServer, session);
    return callback();
  },
  onClose({ id }) {
    shared.unknown.leave(id);
    shared.known.leave(id);
  },
  onAuth(auth, session, callback) {
    signIn(door, auth, session).then(
      (owner) => {
        if (!shared.known.enter(session.id, owner.account.id))
          return callback(refusal(454, '4.7.0 Too many connections of yours, try again later'));
        shared.unknown.leave(session.id);
        owners.set(session, owner);
        return callback(null, { user: owner.deviceId });
      },
      (error: unknown) => callback(answerTo(door, error)),
    );
  },
  onMailFrom: ({ address }, session, callback) => answering(door, () => mayBeSender(door, address, session), callback),
  onRcptTo: ({ address }, session, callback) =>
    answering(door, () => mayBeRecipient(shared.limits, address, session), callback),
  onData: (stream, session, callback) => answering(door, () => receive(door, stream, session, shared), callback),
});

const optionsFor = (door: Door, { cert, key, host }: Config, shared: Shared): SMTPServerOptions => ({
  ...handlers(door, shared),
  name: host,
  banner: 'Under Lock',
  cert,
  key,
  minVersion: 'TLSv1.2',
  size: shared.limits.maxBytes,
  authMethods: ['PLAIN', 'LOGIN'],
  authOptional: true,
  allowInsecureAuth: false,
  disableReverseLookup: true,
  maxClients: MOST_CLIENTS,
  socketTimeout: IDLE_MS,
  closeTimeout: 2_000,
  logger: false,
});

/** Keeps a mail before its yes. @throws Error for what its program is to be told */
export type Take = (owner: Owner, mail: Taken) => Promise<void>;

async function receive(
  door: Door,
  stream: SMTPServerDataStream,
  session: SMTPServerSession,
  { limits, budget, take }: Shared,
): Promise<void> {
  let held = 0;
  try {
    const raw = await collected(stream, limits, announcedIn(session), {
      take: (bytes) => {
        const isTaken = budget.take(bytes);
        if (isTaken) held += bytes;
        return isTaken;
      },
    });
    const owner = await ownerIn(door, session);
    await take(owner, { raw, to: session.envelope.rcptTo.map(({ address }) => address) });
  } finally {
    budget.giveBack(held);
  }
}

export interface Listening {
  startTls: number;
  tls: number;
  close(): Promise<void>;
}

function listening(server: SMTPServer, port: number, host: string): Promise<number> {
  return new Promise((resolve, reject) => {
    server.server.once('error', reject);
    server.listen(port, host, () => resolve((server.server.address() as { port: number }).port));
  });
}

export async function listen(door: Door, config: Config, limits: Limits, take: Take): Promise<Listening> {
  const shared: Shared = {
    limits,
    budget: new Budget(IN_FLIGHT_BYTES),
    unknown: new Counts(MOST_UNKNOWN),
    known: new Counts(MOST_OF_ONE),
    take,
  };
  const servers = [false, true].map((secure) => {
    const server = new SMTPServer({ ...optionsFor(door, config, shared), secure });
    // A line that breaks is nobody's fault here.
    server.on('error', (error) => door.log.error('line', error));
    return server;
  });
  const [startTls, tls] = await Promise.all(
    servers.map((server, index) => listening(server, index === 0 ? config.startTls : config.tls, config.listen)),
  );
  return {
    startTls: startTls!,
    tls: tls!,
    close: async () => {
      await Promise.all(servers.map((server) => new Promise<void>((done) => server.close(() => done()))));
    },
  };
}
