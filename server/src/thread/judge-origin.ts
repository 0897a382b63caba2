/**
 * Asks the DNS whether a mail comes from where it says, by mailauth. Run in a thread: its signatures are over all of it,
 * and whose names are asked for is up to whoever wrote it.
 */
import { type Found, MOST_SIGNATURES, type Origin, originOf } from '@under-lock/core/incoming/origin';
import { concat } from '@under-lock/core/bytes';
import { fieldsNamed, readEntity } from '@under-lock/core/message/entity';
import { hostOf } from '@under-lock/core/people/address';
import { addressesInHeader } from '@under-lock/core/message/read';
import { resolverAt } from '../mail/resolver';

export interface OriginToJudge {
  raw: Uint8Array;
  /** As the connection said it. */
  ip: string;
  helo: string;
  from: string;
  host: string;
  /** Where the DNS is asked, as `address:port`; as this machine does where it is left out. */
  dns?: string | undefined;
  /** Our own records, by name: what we publish we need not ask for. */
  own: Readonly<Record<string, string>>;
}

/** RFC 7208 §4.6.4 lets a domain ask for ten more; signatures and policies come on top. */
const MOST_QUESTIONS = 40;

const notThere = (name: string): Error => Object.assign(new Error(`No record of ${name}`), { code: 'ENOTFOUND' });

function asking({ dns, own }: OriginToJudge): (name: string, kind: string) => Promise<string[][] | string[]> {
  const resolver = resolverAt(dns);
  let asked = 0;
  return async (name, kind) => {
    const ours = kind === 'TXT' ? own[name.toLowerCase().replace(/\.$/, '')] : undefined;
    if (ours !== undefined) return [[ours]];
    if (++asked > MOST_QUESTIONS) throw notThere(name);
    return (await resolver.resolve(name, kind)) as string[][] | string[];
  };
}

/** Without signatures beyond those that are looked at: each costs a question and a hash of everything. */
function withFewSignatures(raw: Uint8Array): Buffer {
  const { fields, body } = readEntity(raw);
  let seen = 0;
  const kept = fields.filter(({ name }) => name !== 'dkim-signature' || ++seen <= MOST_SIGNATURES);
  if (kept.length === fields.length) return Buffer.from(raw.buffer, raw.byteOffset, raw.byteLength);
  return Buffer.from(concat(...kept.map((field) => field.raw), Buffer.from('\r\n'), body));
}

const domainOf = (address: string): string => hostOf(address).toLowerCase().slice(0, 253);
const said = (text: unknown): string => (typeof text === 'string' ? text.slice(0, 20) : 'none');

/** @throws EntityError for what is no mail */
export async function judgeOrigin(asked: OriginToJudge): Promise<Origin> {
  const { ip, helo, from, host } = asked;
  const froms = fieldsNamed(readEntity(asked.raw), 'from');
  const senders = froms.flatMap(({ value }) => addressesInHeader(value));
  const [sender] = senders;
  const {
    default: { authenticate },
  } = await import('mailauth');
  const { spf, dkim, dmarc, arc } = await authenticate(withFewSignatures(asked.raw), {
    ip,
    helo,
    sender: from,
    mta: host,
    resolver: asking(asked),
    disableBimi: true,
  });
  const found: Found = {
    isUnclear: froms.length !== 1 || senders.length !== 1,
    domain: sender === undefined ? '' : domainOf(sender),
    ...(spf === false || spf === undefined
      ? {}
      : { spf: { result: said(spf.status.result), domain: domainOf(spf.domain ?? from) } }),
    dkim: (dkim?.results ?? [])
      .filter(({ signingDomain }) => signingDomain !== undefined)
      .slice(0, MOST_SIGNATURES)
      .map(({ status, signingDomain }) => ({ result: said(status.result), domain: domainOf(signingDomain!) })),
    ...(dmarc === false || dmarc === undefined || dmarc.status.result === 'none'
      ? {}
      : { dmarc: { result: said(dmarc.status.result), policy: said(dmarc.policy) } }),
    ...(arc === false || arc === undefined ? {} : { arc: said(arc.status.result) }),
  };
  return originOf(found);
}
