/**
 * Looks keys up for browsers: the office's own people here, others by Web Key Directory at their own domain, then in
 * the key directory. Judges nothing.
 */
import { type KeySource } from '@under-lock/contract/openpgp';
import { hkpUrl, wkdUrls } from '@under-lock/core/openpgp/discovery';
import { isAtDomain } from '@under-lock/core/people/address';
import { type Context } from '../context';
import { askDoor, fetchOutside, WebError } from '../certificate/web';
import { publishedFor } from './published';

export interface KeyWanted {
  address?: string | undefined;
  fingerprint?: string | undefined;
}
export interface KeyFound {
  index: number;
  source: KeySource;
  key: Uint8Array<ArrayBuffer>;
}

const MAX_BYTES = 512 * 1024;
const AT_ONCE = 8;

/** Undefined when there is none; a place that can't be asked is put down. */
async function fetched(
  context: Context,
  url: string,
  failed: Set<string>,
  fromDirectory = false,
): Promise<Uint8Array<ArrayBuffer> | undefined> {
  try {
    return new Uint8Array(
      await (fromDirectory ? askDoor(context, 'keys', url, MAX_BYTES) : fetchOutside(context, url, MAX_BYTES)),
    );
  } catch (error) {
    if (!(error instanceof WebError)) throw error;
    // No such key, or no directory under that name: an answer, not a failure.
    if (!/^answered 40[04]|^the host is not known/.test(error.message)) failed.add(new URL(url).hostname);
    return undefined;
  }
}

const isOurs = ({ config }: Context, address: string): boolean => isAtDomain(address, config.office.mailDomain);

async function byAddress(context: Context, address: string, failed: Set<string>): Promise<Omit<KeyFound, 'index'>[]> {
  if (isOurs(context, address)) return (await publishedFor(context, address)).map((key) => ({ source: 'office', key }));
  for (const url of wkdUrls(address)) {
    const key = await fetched(context, url, failed);
    if (key !== undefined) return [{ source: 'wkd', key }];
  }
  const key = await fetched(context, hkpUrl(context.config.keysUrl, address), failed, true);
  return key === undefined ? [] : [{ source: 'directory', key }];
}

async function find(
  context: Context,
  { address, fingerprint }: KeyWanted,
  failed: Set<string>,
): Promise<Omit<KeyFound, 'index'>[]> {
  const found = address === undefined ? [] : await byAddress(context, address, failed);
  if (fingerprint === undefined || found.some(({ source }) => source === 'directory')) return found;
  // A revocation is often in the directory only: whoever lost the key has lost their domain's place, too.
  const key = await fetched(context, hkpUrl(context.config.keysUrl, `0x${fingerprint.toUpperCase()}`), failed, true);
  return key === undefined ? found : [...found, { source: 'directory', key }];
}

export async function findKeys(
  context: Context,
  wanted: readonly KeyWanted[],
): Promise<{ found: KeyFound[]; failed: string[] }> {
  const failed = new Set<string>();
  const found: KeyFound[] = [];
  for (let from = 0; from < wanted.length; from += AT_ONCE) {
    const some = await Promise.all(wanted.slice(from, from + AT_ONCE).map((one) => find(context, one, failed)));
    found.push(...some.flatMap((keys, at) => keys.map((key) => ({ index: from + at, ...key }))));
  }
  return { found, failed: [...failed] };
}
