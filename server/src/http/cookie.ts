import { type Context as Http } from 'koa';
import { DEVICE_LIFE_MS, rememberedDevice } from '../account/device';
import { type Config } from '../config';
import { type Context } from '../context';

/** A cookie of ours: where it is sent, by the name it has on one's own machine. */
export interface Cookie {
  name: string;
  path: string;
  /** Bound to this host alone where there is encryption, which asks for all paths. */
  bound?: true;
}

/** Of a worker who is signed in. */
export const SESSION: Cookie = { name: 'under_lock', path: '/api', bound: true };
/** Of who has been identified for one access; each access has its own. */
export const READER = (grantId: string): Cookie => ({ name: 'under_lock_room', path: `/room/api/grants/${grantId}` });
/** Of a registered reader who is signed in. */
export const REGISTERED: Cookie = { name: 'under_lock_reader', path: '/room/api' };
/** Of the browser that asked for digits to reset a password. */
export const RESET: Cookie = { name: 'under_lock_reset', path: '/room/api/reset' };
/** Of a browser that somebody of the office has signed in with, and of a reader's: apart, because their pages are. */
export const DEVICES = {
  worker: { name: 'under_lock_device', path: '/api' },
  reader: { name: 'under_lock_reader_device', path: '/room/api' },
} as const satisfies Record<string, Cookie>;

const isEncrypted = ({ origin }: Pick<Config, 'origin'>): boolean => origin.startsWith('https:');

/**
 * With the prefixes that browsers hold to (RFC 6265bis §4.1.3): no page without encryption can set these, and what is
 * bound to a host no neighbouring one can, either.
 */
export const spelledName = (config: Pick<Config, 'origin'>, { name, bound }: Cookie): string =>
  `${isEncrypted(config) ? (bound === true ? '__Host-' : '__Secure-') : ''}${name}`;

export const cookieOf = ({ config }: Context, http: Http, cookie: Cookie): string | undefined =>
  http.cookies.get(spelledName(config, cookie));

/** A cookie no script sees and no other site sends; `null` takes it away. */
export function setCookie({ config }: Context, http: Http, cookie: Cookie, value: string | null, maxAge: number): void {
  const secure = isEncrypted(config);
  // A proxy of ours may end the encryption before us: the address people type says whether there is one.
  (http.cookies as { secure?: boolean }).secure = secure;
  http.cookies.set(spelledName(config, cookie), value, {
    httpOnly: true,
    sameSite: 'strict',
    secure,
    path: secure && cookie.bound === true ? '/' : cookie.path,
    maxAge,
    overwrite: true,
  });
}

export const deviceOf = (context: Context, http: Http, kind: keyof typeof DEVICES): string | undefined =>
  cookieOf(context, http, DEVICES[kind]);

/** From now on this browser has a budget of tries of its own for `address`. */
export function rememberDevice(context: Context, http: Http, kind: keyof typeof DEVICES, address: string): void {
  setCookie(
    context,
    http,
    DEVICES[kind],
    rememberedDevice(context, deviceOf(context, http, kind), address),
    DEVICE_LIFE_MS,
  );
}
