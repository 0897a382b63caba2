/**
 * The names of the world outside, as far as mail asks for them: what firms say of their mail (SPF, DKIM, DMARC), and
 * what the office has entered for its own domain, over UDP as any resolver asks.
 */
import { decode, encode, type Answer, type Packet } from 'dns-packet';
import { createPublicKey, generateKeyPair } from 'node:crypto';
import { createSocket } from 'node:dgram';
import { z } from 'zod';
import { promisify } from 'node:util';
import { readFirst, writeWhole } from './ready';

export interface DkimKey {
  domainName: string;
  keySelector: string;
  privateKey: string;
}

/** A record that the office has entered. */
export const entrySchema = z.object({
  name: z.string().max(253).toLowerCase(),
  type: z.enum(['TXT', 'A', 'AAAA', 'CNAME']),
  data: z.string().max(4_000),
});
export type Entry = z.infer<typeof entrySchema>;

export interface Names {
  close(): Promise<void>;
}

/** Firms that say which mail is theirs, and what is to be done with all other. */
const STRICT = ['harbourclinic.example', 'northquay.example', 'skerryfreight.example', 'pilots.example'];
/** Whose hosts sign, and that is all. */
const SIGNING = ['postbox.example', 'islandmail.example'];
const SELECTOR = 'post';

/** By name, in small letters: every record is a text. @param office What it enters itself is not among them. */
function recordsOf(publicKey: Buffer, office: string): Map<string, string> {
  const records = new Map<string, string>();
  for (const domain of [...STRICT, office]) {
    records.set(domain, 'v=spf1 -all');
    records.set(`_dmarc.${domain}`, 'v=DMARC1; p=reject');
  }
  for (const domain of [...STRICT, ...SIGNING])
    records.set(`${SELECTOR}._domainkey.${domain}`, `v=DKIM1; k=rsa; p=${publicKey.toString('base64')}`);
  return records;
}

function answered(asked: Packet, records: ReadonlyMap<string, string>, entered: readonly Entry[]): Packet {
  const answers = (asked.questions ?? []).flatMap(({ name, type }): Answer[] => {
    const said = type === 'TXT' ? records.get(name.toLowerCase()) : undefined;
    const own = entered.filter((one) => one.name === name.toLowerCase() && one.type === type).map(({ data }) => data);
    return [...(said === undefined ? [] : [said]), ...own].map((data): Answer =>
      // A string of a record holds 255 octets (RFC 1035 §3.3).
      type === 'TXT'
        ? { type, name, ttl: 60, data: data.match(/.{1,250}/g)! }
        : ({ type, name, ttl: 60, data } as Answer),
    );
  });
  return {
    type: 'response',
    id: asked.id ?? 0,
    // Recursion is available; 3 is "no such name" (RFC 1035 §4.1.1).
    flags: 0x0480 | (answers.length === 0 ? 3 : 0),
    questions: asked.questions ?? [],
    answers,
  };
}

const NAME = 'mail-signing.json';

/** PKCS #8, as PEM. @param dir Where it is written; `ready` is only read. */
export async function mailSigningKey(dir?: string, ready?: string): Promise<string> {
  const known = readFirst<{ privateKey: string }>([dir, ready], NAME);
  if (known !== undefined) return known.privateKey;
  const { privateKey } = await promisify(generateKeyPair)('rsa', {
    modulusLength: 2048,
    publicKeyEncoding: { type: 'spki', format: 'der' },
    privateKeyEncoding: { type: 'pkcs8', format: 'pem' },
  });
  if (dir !== undefined) writeWhole(dir, NAME, { privateKey });
  return privateKey;
}

/** What the mail host of a firm signs with; undefined for one that does not. */
export const signingKeyOf = async (domain: string, mailKey: () => Promise<string>): Promise<DkimKey | undefined> =>
  [...STRICT, ...SIGNING].includes(domain.toLowerCase())
    ? { domainName: domain.toLowerCase(), keySelector: SELECTOR, privateKey: await mailKey() }
    : undefined;

interface Place {
  office: string;
  /** On loopback, of UDP. */
  port: number;
  /** Asked for once somebody wants to know a name. */
  mailKey: () => Promise<string>;
  entered: readonly Entry[];
}

export async function openNames({ port, office, mailKey, entered }: Place): Promise<Names> {
  let found: Promise<Map<string, string>> | undefined;
  const records = (): Promise<Map<string, string>> =>
    (found ??= mailKey().then((pem) =>
      recordsOf(createPublicKey(pem).export({ type: 'spki', format: 'der' }), office.toLowerCase()),
    ));
  const socket = createSocket('udp4');
  const answer = async (message: Buffer, to: { port: number; address: string }): Promise<void> => {
    const asked = decode(message);
    socket.send(encode(answered(asked, await records(), entered)), to.port, to.address);
  };
  // What is no question about a name gets no answer.
  socket.on('message', (message, from) => void answer(message, from).catch(() => undefined));
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, '127.0.0.1', resolve);
  });
  return { close: () => new Promise((done) => socket.close(() => done())) };
}
