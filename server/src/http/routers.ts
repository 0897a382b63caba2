import Router from '@koa/router';
import { type Middleware } from 'koa';

/** Of an endpoint's address: what it is about. Empty for what is no endpoint's. */
const startOf = (path: string): string => /^\/(?:(?:room|slot)\/)?api\/[^/]*/.exec(path)?.[0] ?? '';

/**
 * A router for each start of an address: an address is held against the few that begin like it, not against all two
 * hundred. Addresses count letter by letter, as they do for what is asked before an endpoint is (which site a request
 * comes from, which host it is for).
 */
export class Routers {
  private readonly byStart = new Map<string, { router: Router; dispatch: Middleware }>();

  of(path: string): Router {
    const start = startOf(path);
    const found = this.byStart.get(start);
    if (found !== undefined) return found.router;
    const router = new Router({ sensitive: true });
    this.byStart.set(start, { router, dispatch: router.routes() as Middleware });
    return router;
  }

  readonly dispatch: Middleware = (http, next) => this.byStart.get(startOf(http.path))?.dispatch(http, next) ?? next();
}
