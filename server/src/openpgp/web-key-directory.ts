/**
 * Our people's keys by Web Key Directory (draft-koch-openpgp-webkey-service §3.1), at the advanced and the direct
 * place, for anybody.
 */
import { type Middleware } from 'koa';
import { type Context } from '../context';
import { publishedUnder } from './published';

const ROOT = '/.well-known/openpgpkey';

/** The hash that is asked for, and whether only the policy is; undefined for other paths. */
function askedFor(path: string, domain: string): { hash: string } | 'policy' | undefined {
  if (!path.startsWith(`${ROOT}/`)) return undefined;
  const rest = path.slice(ROOT.length + 1).split('/');
  const here = rest[0]?.toLowerCase() === domain ? rest.slice(1) : rest;
  if (here.length === 1 && here[0] === 'policy') return 'policy';
  return here.length === 2 && here[0] === 'hu' && /^[ybndrfg8ejkmcpqxot1uwisza345h769]{32}$/.test(here[1]!)
    ? { hash: here[1]! }
    : undefined;
}

export const webKeyDirectory =
  (context: Context): Middleware =>
  async (http, next) => {
    const asked =
      http.method === 'GET' || http.method === 'HEAD'
        ? askedFor(http.path, context.config.office.mailDomain)
        : undefined;
    if (asked === undefined) {
      await next();
      return;
    }
    // Public keys: pages of other mail programs may ask, too.
    http.set({
      'Access-Control-Allow-Origin': '*',
      'Content-Security-Policy': "default-src 'none'",
      'Cache-Control': 'no-cache',
    });
    if (asked === 'policy') {
      http.type = 'text/plain';
      http.body = '# No flags.\n';
      return;
    }
    const keys = await publishedUnder(context, asked.hash);
    if (keys === undefined) {
      http.status = 404;
      return;
    }
    http.type = 'application/octet-stream';
    http.body = keys;
  };
