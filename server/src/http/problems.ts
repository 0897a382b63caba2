/**
 * Turns what was thrown into RFC 9457 problem details; anything unforeseen becomes `server-error` and is logged, never
 * shown.
 */
import { type ProblemDetails } from '@under-lock/contract/problem';
import { type Middleware } from 'koa';
import { BaseError, DatabaseError } from 'sequelize';
import { type Context } from '../context';
import { Problem } from '../problem';

const DISK_FULL = '53100'; // PostgreSQL error code, class 53: insufficient resources

function detailsOf(error: unknown): ProblemDetails {
  if (error instanceof Problem)
    return { type: 'about:blank', title: error.message, status: error.status, code: error.code, ...error.data };
  if (error instanceof DatabaseError && (error.original as { code?: string }).code === DISK_FULL) {
    return { type: 'about:blank', title: 'The server has no room left', status: 507, code: 'storage-full' };
  }
  const status = (error as { status?: number }).status;
  if (typeof status === 'number' && status >= 400 && status < 500 && !(error instanceof BaseError)) {
    return {
      type: 'about:blank',
      title: 'Something in the request is not right',
      status,
      code: status === 404 ? 'not-found' : 'invalid-input',
    };
  }
  return { type: 'about:blank', title: 'The server could not do this', status: 500, code: 'server-error' };
}

export const problems =
  (context: Context): Middleware =>
  async (http, next) => {
    try {
      await next();
    } catch (error) {
      const details = detailsOf(error);
      if (details.status >= 500)
        context.log.error('request', error, {
          method: http.method,
          path: http.path.replace(/[\da-f]{8}-[\da-f-]{27}/g, ':id'),
        });
      http.status = details.status;
      http.type = 'application/problem+json';
      if (details.until !== undefined)
        http.set(
          'Retry-After',
          String(Math.max(1, Math.ceil((Date.parse(details.until) - context.clock().getTime()) / 1000))),
        );
      http.body = JSON.stringify(details);
    }
  };
