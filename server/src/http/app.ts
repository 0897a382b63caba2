/** The HTTP server, top to bottom: problems, headers, origin, routes, pages. */
import { type Endpoint } from '@under-lock/contract/endpoint';
import Koa from 'koa';
import compress from 'koa-compress';
import helmet from 'koa-helmet';
import { type Config } from '../config';
import { type Context } from '../context';
import { webKeyDirectory } from '../openpgp/web-key-directory';
import { invalid, notFound, Problem } from '../problem';
import { pages } from './pages';
import { problems } from './problems';
import { Streams } from '../live/streams';
import { routes } from './routes';

const GONE = new Set<unknown>(['ERR_STREAM_PREMATURE_CLOSE', 'EPIPE', 'ECONNRESET']);

const isApi = (path: string): boolean => ['/api/', '/room/api/', '/slot/api/'].some((start) => path.startsWith(start));

function isDecodable(path: string): boolean {
  try {
    decodeURIComponent(path);
    return true;
  } catch {
    return false;
  }
}

const isUnder = (base: string, path: string): boolean => path === base || path.startsWith(`${base}/`);
/** What outsiders load. */
const isOutsiders = (path: string): boolean => isUnder('/room', path) || isUnder('/slot', path);

/**
 * The pages of the office call the office's endpoints, those of outsiders theirs; on one's own machine by either of its
 * names.
 */
function isOurOrigin({ origin, roomOrigin, isLocal }: Config, given: string, path: string): boolean {
  const named = isLocal ? given.replace('http://localhost:', 'http://127.0.0.1:') : given;
  return named === (isOutsiders(path) ? roomOrigin : origin);
}

/**
 * Where the reading room has a host of its own, that host has nothing but what is for outsiders: nothing else could a
 * reader's page be led to there.
 */
function isServedAt({ origin, roomOrigin }: Config, host: string, path: string): boolean {
  const room = new URL(roomOrigin).host;
  return new URL(origin).host === room || host !== room || isOutsiders(path);
}

export function createApp(context: Context): { app: Koa; mounted: Set<Endpoint>; streams: Streams } {
  const { proxies } = context.config;
  // The entries that our own proxies wrote, counted from the end: what stands before them anybody may have written.
  const app = new Koa({ proxy: proxies > 0, maxIpsCount: proxies });
  const streams = new Streams(context);
  const { routers, mounted } = routes(context, streams);
  app.on('error', (error: unknown) => {
    // Somebody has left before they were answered: a stream has no other end.
    if (!GONE.has((error as { code?: unknown }).code)) context.log.error('connection', error);
  });
  app.use(
    helmet({
      contentSecurityPolicy: false, // each page sets its own
      crossOriginEmbedderPolicy: false,
      referrerPolicy: { policy: 'no-referrer' }, // a notice's link must not travel on
      hsts: context.config.origin.startsWith('https:'),
    }),
  );
  app.use(problems(context));
  app.use(compress({ threshold: 2048, filter: (type) => /json|html/.test(type), br: { params: { [1]: 4 } } as never }));
  app.use(async (http, next) => {
    if (!isServedAt(context.config, http.host, http.path)) throw notFound('This address');
    if (!isDecodable(http.path)) throw invalid('The address is not spelled as a URL.');
    if (isApi(http.path)) {
      http.set('Content-Security-Policy', "default-src 'none'");
      // Cookies are SameSite=Strict; this holds even where a browser forgets it.
      // No page can make a browser say a bearer's word.
      if (
        !['GET', 'HEAD'].includes(http.method) &&
        http.get('Authorization') === '' &&
        !isOurOrigin(context.config, http.get('Origin'), http.path)
      )
        throw new Problem('not-allowed', 403, 'This request comes from another site');
    }
    await next();
  });
  app.use(webKeyDirectory(context));
  app.use(routers.dispatch);
  app.use(async (http, next) => {
    if (isApi(http.path)) throw notFound('This address');
    await next();
  });
  app.use(pages(context.config));
  return { app, mounted, streams };
}
