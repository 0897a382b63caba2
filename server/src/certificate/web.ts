/**
 * What the server fetches for its browsers from addresses that strangers wrote into certificates and mail domains: by
 * HTTP as RFC 5280 and 6960 have it, and never from
 * inside the house. The name is resolved once, every address it has is looked at, and the connection goes to one of
 * those: a name that says something else
 * the second time leads nowhere. With the simulated outside world everything is asked of that.
 */
import { lookup as resolve, type LookupAddress } from 'node:dns';
import { BlockList, isIP } from 'node:net';
import { Agent, type Dispatcher, fetch, ProxyAgent, type RequestInit } from 'undici';
import { type Config } from '../config';
import { type Context } from '../context';

export class WebError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'WebError';
  }
}

const TIMEOUT_MS = 8_000;

/** IANA's registries of special-purpose addresses (RFC 6890) where they are not globally reachable, and multicast. */
const INSIDE_4: readonly (readonly [string, number])[] = [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.0.2.0', 24],
  ['192.31.196.0', 24],
  ['192.52.193.0', 24],
  ['192.88.99.0', 24],
  ['192.168.0.0', 16],
  ['192.175.48.0', 24],
  ['198.18.0.0', 15],
  ['198.51.100.0', 24],
  ['203.0.113.0', 24],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
];
/**
 * Likewise; and every way of writing an address of version 4 as one of version 6, whatever it leads to: mapped,
 * compatible, translated, 6to4, Teredo, ISATAP's prefix.
 */
const INSIDE_6: readonly (readonly [string, number])[] = [
  ['::', 96],
  ['::ffff:0:0', 96],
  ['::ffff:0:0:0', 96],
  ['64:ff9b::', 96],
  ['64:ff9b:1::', 48],
  ['100::', 64],
  ['100:0:0:1::', 64],
  ['2001::', 23],
  ['2001:db8::', 32],
  ['2002::', 16],
  ['2620:4f:8000::', 48],
  ['3fff::', 20],
  ['5f00::', 16],
  ['fc00::', 7],
  ['fe80::', 10],
  ['fec0::', 10],
  ['ff00::', 8],
];
const inside = new BlockList();
for (const [net, prefix] of INSIDE_4) inside.addSubnet(net, prefix, 'ipv4');
const inside6 = new BlockList();
for (const [net, prefix] of INSIDE_6) inside6.addSubnet(net, prefix, 'ipv6');

/** Two lists, because one of both takes an address of version 4 for its mapped form and so for blocked. */
export const isInside = (ip: string): boolean =>
  isIP(ip) === 6 ? inside6.check(ip, 'ipv6') || /:0{0,4}5efe:/i.test(ip) : inside.check(ip, 'ipv4');

/** @throws WebError when the address is none we fetch from */
export function checkedUrl(text: string): URL {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    throw new WebError('no address');
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:') throw new WebError('neither http nor https');
  if (url.port !== '' || url.username !== '' || url.password !== '')
    throw new WebError('a port or a sign-in in the address');
  if (isIP(url.hostname.replace(/^\[|\]$/g, '')) !== 0 || !url.hostname.includes('.'))
    throw new WebError('a host without a name');
  return url;
}

type Resolver = (
  host: string,
  options: { all: true },
  done: (error: Error | null, addresses: LookupAddress[]) => void,
) => void;

/** A look-up whose answers have been looked at: what it hands out is what is connected to. */
export const outsideOnly =
  (resolver: Resolver = resolve, isForbidden: (ip: string) => boolean = isInside) =>
  (
    host: string,
    options: { all?: boolean | undefined },
    done: (error: Error | null, address: string | LookupAddress[], family?: number) => void,
  ): void => {
    resolver(host, { all: true }, (error, addresses) => {
      if (error !== null || addresses.length === 0) return done(new WebError('the host is not known'), []);
      if (addresses.some(({ address }) => isForbidden(address)))
        return done(new WebError('the host is inside the house'), []);
      if (options.all === true) return done(null, addresses);
      return done(null, addresses[0]!.address, addresses[0]!.family);
    });
  };

/** One for each configuration, with its open connections. */
function onceFor(make: (config: Config) => Dispatcher): (config: Config) => Dispatcher {
  const made = new WeakMap<Config, Dispatcher>();
  return (config) => {
    const dispatcher = made.get(config) ?? make(config);
    made.set(config, dispatcher);
    return dispatcher;
  };
}

/** Through the office's proxy where there is one: then the proxy resolves names, and says what it lets out. */
const outsideDispatcher = onceFor(({ fetchProxy }) =>
  fetchProxy === undefined
    ? new Agent({ connect: { lookup: outsideOnly() as never, timeout: TIMEOUT_MS } })
    : new ProxyAgent(fetchProxy),
);

const inWorld = (outsideUrl: string, url: URL): string =>
  `${outsideUrl}/web/${url.hostname}${url.pathname}${url.search}`;

/** @throws WebError */
async function asked(address: string, maxBytes: number, init: RequestInit): Promise<Buffer> {
  let response: Awaited<ReturnType<typeof fetch>>;
  try {
    // Where it is led on to, nobody has looked at.
    response = await fetch(address, { ...init, redirect: 'error', signal: AbortSignal.timeout(TIMEOUT_MS) });
  } catch (cause) {
    throw webErrorIn(cause) ?? new WebError('no answer');
  }
  if (!response.ok)
    throw new WebError(
      `answered ${response.status}${response.status === 422 || response.status === 409 ? `: ${(await response.text()).slice(0, 200)}` : ''}`,
    );
  const chunks: Uint8Array[] = [];
  let size = 0;
  try {
    for await (const chunk of response.body ?? []) {
      size += (chunk as Uint8Array).length;
      if (size > maxBytes) throw new WebError('larger than allowed');
      chunks.push(chunk as Uint8Array);
    }
  } catch (cause) {
    throw cause instanceof WebError ? cause : new WebError('no answer');
  }
  return Buffer.concat(chunks);
}

/** What our own look-up threw, inside whatever the client made of it. */
function webErrorIn(cause: unknown): WebError | undefined {
  for (let at = cause, depth = 0; at instanceof Error && depth < 5; at = at.cause, depth++)
    if (at instanceof WebError) return at;
  return undefined;
}

/** From an address that somebody outside named. @throws WebError */
export async function fetchOutside(
  { config }: Context,
  address: string,
  maxBytes: number,
  init: RequestInit = {},
): Promise<Buffer> {
  const url = checkedUrl(address);
  return config.outsideUrl === undefined
    ? asked(url.href, maxBytes, { ...init, dispatcher: outsideDispatcher(config) })
    : asked(inWorld(config.outsideUrl, url), maxBytes, init);
}

export type DoorName = 'authority' | 'directory' | 'keys';

/** With the office's client certificate, where a door asks for one. */
const doorDispatcher = onceFor(({ doorTls }) => new Agent({ connect: { timeout: TIMEOUT_MS, ...doorTls } }));

/**
 * From one of the office's own doors, which the office configures and which may be inside: with that door's token.
 * @throws WebError
 */
export function askDoor(
  { config }: Context,
  door: DoorName,
  address: string,
  maxBytes: number,
  init: RequestInit = {},
): Promise<Buffer> {
  const token = config.doorTokens[door];
  const headers = {
    ...(init.headers as Record<string, string> | undefined),
    ...(token === undefined ? {} : { Authorization: `Bearer ${token}` }),
  };
  const url = new URL(address);
  // The demo's doors stand in the simulated outside world, under names that nobody else has.
  const isInWorld = config.outsideUrl !== undefined && url.hostname.endsWith('.example');
  return asked(isInWorld ? inWorld(config.outsideUrl!, url) : url.href, maxBytes, {
    ...init,
    headers,
    dispatcher: doorDispatcher(config),
  });
}
