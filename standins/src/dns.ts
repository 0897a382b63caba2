/**
 * The names of the world outside, as far as mail asks for them: what firms say of their mail (SPF, DKIM, DMARC), over
 * UDP as any resolver asks.
 */
import { decode, encode, type Answer, type Packet } from 'dns-packet';
import { createSocket } from 'node:dgram';
import { generateKeyPairSync } from 'node:crypto';

export interface DkimKey {
  domainName: string;
  keySelector: string;
  privateKey: string;
}

export interface Names {
  /** What a firm's mail host signs with; undefined for one that does not. */
  keyOf(domain: string): DkimKey | undefined;
  close(): Promise<void>;
}

/** Firms that say which mail is theirs, and what is to be done with all other. */
const STRICT = ['harbourclinic.example', 'northquay.example', 'skerryfreight.example', 'pilots.example'];
/** Whose hosts sign, and that is all. */
const SIGNING = ['postbox.example', 'islandmail.example'];
const SELECTOR = 'post';

/** By name, in small letters: every record is a text. @param office Its own keys it knows itself. */
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

function answered(asked: Packet, records: ReadonlyMap<string, string>): Packet {
  const answers = (asked.questions ?? []).flatMap(({ name, type }): Answer[] => {
    const data = type === 'TXT' ? records.get(name.toLowerCase()) : undefined;
    // A string of a record holds 255 octets (RFC 1035 §3.3).
    return data === undefined ? [] : [{ type: 'TXT', name, ttl: 60, data: data.match(/.{1,250}/g)! }];
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

/** On loopback, at a port of UDP. */
export async function openNames(port: number, office: string): Promise<Names> {
  const { publicKey, privateKey } = generateKeyPairSync('rsa', {
    modulusLength: 2048,
    publicKeyEncoding: { type: 'spki', format: 'der' },
    privateKeyEncoding: { type: 'pkcs8', format: 'pem' },
  });
  const records = recordsOf(publicKey, office.toLowerCase());
  const socket = createSocket('udp4');
  socket.on('message', (message, { port: to, address }) => {
    try {
      socket.send(encode(answered(decode(message), records)), to, address);
    } catch {
      // Nothing that asks for a name.
    }
  });
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, '127.0.0.1', resolve);
  });
  return {
    keyOf: (domain) =>
      [...STRICT, ...SIGNING].includes(domain.toLowerCase())
        ? { domainName: domain.toLowerCase(), keySelector: SELECTOR, privateKey }
        : undefined,
    close: () => new Promise((done) => socket.close(() => done())),
  };
}
