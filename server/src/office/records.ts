/**
 * Looks whether the records of the office's own domain are entered as they should be: the key its mail is signed with
 * (RFC 6376 §3.6.1), and the name under which OpenPGP keys are looked for (Web Key Directory).
 */
import { type LookedUpRecord } from '@under-lock/contract/office';
import { type Context } from '../context';
import { type Resolver } from 'node:dns/promises';
import { isIP } from 'node:net';
import { type AccountRow } from '../data/models';
import { byAccount, logged } from '../log/log';
import { publishedKeys } from '../mail/dkim';
import { resolverAt } from '../mail/resolver';
import { keyHost, pointingAt } from '@under-lock/core/openpgp/key-host';

const LONGEST_SHOWN = 600;
/** The name is not there, or has no record of that kind. */
const NOTHING = new Set(['ENOTFOUND', 'ENODATA']);

/** @throws Error when nobody answers */
async function asked(ask: () => Promise<string[]>): Promise<string[]> {
  try {
    return await ask();
  } catch (error) {
    if (NOTHING.has((error as { code: string }).code)) return [];
    throw error;
  }
}

/** Tags of a key's record, without the spaces that people enter between them (RFC 6376 §3.2). */
const keyIn = (record: string): string | undefined => /(?:^|;)p=([^;]*)/.exec(record.replace(/\s/g, ''))?.[1];

interface Found {
  all: readonly string[];
  isRight: boolean;
}

async function signingKeyFound(resolver: Resolver, { name, value }: { name: string; value: string }): Promise<Found> {
  const all = await asked(async () => (await resolver.resolveTxt(name)).map((pieces) => pieces.join('')));
  return { all, isRight: all.some((one) => keyIn(one) === keyIn(value)) };
}

/** An address is asked for nobody. */
const addressesOf = async (resolver: Resolver, host: string): Promise<string[]> =>
  isIP(host) !== 0
    ? [host]
    : [...(await asked(() => resolver.resolve4(host))), ...(await asked(() => resolver.resolve6(host)))];

/** By another name for ours, or with an address of it. */
async function keysFound(resolver: Resolver, name: string, host: string): Promise<Found> {
  const [names, there, ours] = await Promise.all([
    asked(() => resolver.resolveCname(name)),
    addressesOf(resolver, name),
    addressesOf(resolver, host),
  ]);
  const isRight = names.some((one) => one.toLowerCase() === host) || there.some((one) => ours.includes(one));
  return { all: [...names, ...there], isRight };
}

const settled = async (
  what: LookedUpRecord['what'],
  name: string,
  look: () => Promise<Found>,
): Promise<LookedUpRecord> => {
  const found = await look().catch(() => undefined);
  if (found === undefined) return { what, name, state: 'unanswered' };
  if (found.isRight) return { what, name, state: 'right' };
  if (found.all.length === 0) return { what, name, state: 'missing' };
  return { what, name, state: 'other', found: found.all.join(', ').slice(0, LONGEST_SHOWN) };
};

export async function lookUpRecords(context: Context, account: AccountRow): Promise<LookedUpRecord[]> {
  const { dns, office, roomOrigin } = context.config;
  const resolver = resolverAt(dns);
  const inUse = (await publishedKeys(context)).find(({ replacedAt }) => replacedAt === undefined);
  const { data: host } = pointingAt(roomOrigin);
  const keys = keyHost(office.mailDomain);
  const records = await Promise.all([
    ...(inUse === undefined
      ? []
      : [settled('signing-key', inUse.record.name, () => signingKeyFound(resolver, inUse.record))]),
    settled('keys', keys, () => keysFound(resolver, keys, host)),
  ]);
  if (records.every(({ state }) => state === 'right'))
    await logged(context, { kind: 'records-published', actor: byAccount(account.id) });
  return records;
}
