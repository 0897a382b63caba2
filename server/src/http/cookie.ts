import { type Context as Http } from 'koa';
import { type Context } from '../context';

/** A cookie no script sees and no other site sends; `null` takes it away. */
export function setCookie({ config }: Context, http: Http, name: string, value: string | null, path: string, maxAge: number): void {
  http.cookies.set(name, value, { httpOnly: true, sameSite: 'strict', secure: config.origin.startsWith('https:'), path, maxAge, overwrite: true });
}
