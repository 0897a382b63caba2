/**
 * What the server fetches for its browsers from addresses that strangers wrote into certificates: by HTTP as RFC 5280 and 6960 have it, and never from inside the house.
 * With the simulated outside world everything is asked of that.
 */
import { lookup } from 'node:dns/promises';
import { BlockList, isIP } from 'node:net';
import { type Context } from '../context';

export class WebError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'WebError';
  }
}

const TIMEOUT_MS = 8_000;

// Addresses of version 4 written as version 6 are looked at as what they are. Loopback, private, link-local, carrier-grade, multicast and reserved ranges (RFC 6890).
const inside = new BlockList();
for (const [net, prefix] of [['0.0.0.0', 8], ['10.0.0.0', 8], ['100.64.0.0', 10], ['127.0.0.0', 8], ['169.254.0.0', 16], ['172.16.0.0', 12], ['192.0.0.0', 24], ['192.168.0.0', 16], ['198.18.0.0', 15], ['224.0.0.0', 3]] as const) inside.addSubnet(net, prefix, 'ipv4');
for (const [net, prefix] of [['::', 127], ['64:ff9b::', 96], ['fc00::', 7], ['fe80::', 10], ['ff00::', 8]] as const) inside.addSubnet(net, prefix, 'ipv6');

export const isInside = (ip: string): boolean => inside.check(ip, isIP(ip) === 6 ? 'ipv6' : 'ipv4');

/** @throws WebError when the address is none we fetch from */
export function checkedUrl(text: string): URL {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    throw new WebError('no address');
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:') throw new WebError('neither http nor https');
  if (url.port !== '' || url.username !== '' || url.password !== '') throw new WebError('a port or a sign-in in the address');
  if (isIP(url.hostname.replace(/^\[|\]$/g, '')) !== 0 || !url.hostname.includes('.')) throw new WebError('a host without a name');
  return url;
}

async function target({ config }: Context, url: URL): Promise<string> {
  if (config.outsideUrl !== undefined) return `${config.outsideUrl}/web/${url.hostname}${url.pathname}${url.search}`;
  const addresses = await lookup(url.hostname, { all: true }).catch(() => []);
  if (addresses.length === 0) throw new WebError('the host is not known');
  if (addresses.some(({ address }) => isInside(address))) throw new WebError('the host is inside the house');
  return url.href;
}

/** @throws WebError */
export async function fetchOutside(context: Context, address: string, maxBytes: number, init: RequestInit = {}): Promise<Buffer> {
  const url = checkedUrl(address);
  let response: Response;
  try {
    response = await fetch(await target(context, url), { ...init, redirect: 'error', signal: AbortSignal.timeout(TIMEOUT_MS) });
  } catch (cause) {
    throw cause instanceof WebError ? cause : new WebError('no answer');
  }
  if (!response.ok) throw new WebError(`answered ${response.status}${response.status === 422 || response.status === 409 ? `: ${(await response.text()).slice(0, 200)}` : ''}`);
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of (response.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    size += chunk.length;
    if (size > maxBytes) throw new WebError('larger than allowed');
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}
