import { type Context as Http } from 'koa';
import { DEVICE_LIFE_MS, rememberedDevice } from '../account/device';
import { type Context } from '../context';

/** A cookie no script sees and no other site sends; `null` takes it away. */
export function setCookie({ config }: Context, http: Http, name: string, value: string | null, path: string, maxAge: number): void {
  const secure = config.origin.startsWith('https:');
  // A proxy of ours may end the encryption before us: the address people type says whether there is one.
  (http.cookies as { secure?: boolean }).secure = secure;
  http.cookies.set(name, value, { httpOnly: true, sameSite: 'strict', secure, path, maxAge, overwrite: true });
}

/** Of a browser that somebody of the office has signed in with, and of a reader's: apart, because their pages are. */
export const DEVICE_COOKIES = { worker: { name: 'under_lock_device', path: '/api' }, reader: { name: 'under_lock_reader_device', path: '/room/api' } } as const;

export const deviceOf = (http: Http, kind: keyof typeof DEVICE_COOKIES): string | undefined => http.cookies.get(DEVICE_COOKIES[kind].name);

/** From now on this browser has a budget of tries of its own for `address`. */
export function rememberDevice(context: Context, http: Http, kind: keyof typeof DEVICE_COOKIES, address: string): void {
  const { name, path } = DEVICE_COOKIES[kind];
  setCookie(context, http, name, rememberedDevice(context, http.cookies.get(name), address), path, DEVICE_LIFE_MS);
}
