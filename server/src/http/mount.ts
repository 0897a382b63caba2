/**
 * Mounts endpoints: schema, permission, one call into the feature. Every route goes through here, so none can forget a
 * check.
 */
import { type RouterContext } from '@koa/router';
import { type Reply } from '@under-lock/contract/client';
import { type Endpoint, eventStream, id, nothing, rawBytes } from '@under-lock/contract/endpoint';
import { z } from 'zod';
import { type SignedIn, signedIn } from '../account/session';
import { versionOf } from '../live/changes';
import { cookieOf, READER, REGISTERED, SESSION } from './cookie';
import { type Context } from '../context';
import { invalid, Problem } from '../problem';
import { type SignedInReader, signedInReader } from '../registered/sign-in';
import { readerSession, type ReaderSession } from '../room/room';
import { leftOf, type LeftRow } from '../slot/leave';
import { deviceOf } from '../submission/devices';
import { callsAsDoor, DEVICE_HEADER, requireDoor } from '../submission/door';
import { BodyBudget, passOverBody, readBody } from './body';
import { type Routers } from './routers';

type Out<T> = T extends z.ZodType ? z.output<T> : never;

export interface Request<E extends Endpoint> {
  params: Out<E['params']>;
  query: Out<E['query']>;
  body: Out<E['body']>;
  /** Whoever calls a `worker` or `administrator` endpoint. */
  who: SignedIn;
  /** Whoever calls a `reader` endpoint. */
  reader: ReaderSession;
  /** Whoever calls a `registered` endpoint. */
  registered: SignedInReader;
  /** What whoever calls a `leaver` endpoint has begun to leave. */
  left: LeftRow;
  ip: string;
  http: RouterContext;
}

/** The door for mail programs, and whose it says; no cookie counts beside its word. @throws Problem `not-allowed` */
async function inNameOfDevice(context: Context, byDoor: boolean, http: RouterContext): Promise<SignedIn | undefined> {
  requireDoor(context, http);
  const said = id.safeParse(http.get(DEVICE_HEADER));
  if (!byDoor || !said.success) throw new Problem('not-allowed', 403, 'This is not for the door for mail programs');
  const found = await deviceOf(context, said.data);
  return found === undefined ? undefined : { ...found, session: { id: found.device.id } };
}

/** @throws Problem `not-signed-in`, `not-allowed`, `not-identified` */
async function admit(
  context: Context,
  { access, byDoor }: Pick<Endpoint, 'access' | 'byDoor'>,
  http: RouterContext,
): Promise<Partial<Pick<Request<Endpoint>, 'who' | 'reader' | 'registered' | 'left'>>> {
  switch (access) {
    case 'anybody':
      return {};
    case 'reader': {
      const reader = await readerSession(
        context,
        String(http.params.id),
        cookieOf(context, http, READER(String(http.params.id))),
      );
      if (reader === undefined) throw new Problem('not-identified', 401, 'Please prove who you are first');
      return { reader };
    }
    case 'registered': {
      const registered = await signedInReader(context, cookieOf(context, http, REGISTERED));
      if (registered === undefined) throw new Problem('not-signed-in', 401, 'Please sign in');
      return { registered };
    }
    case 'leaver':
      return { left: await leftOf(context, String(http.params.ticket)) };
    case 'door':
      requireDoor(context, http);
      return {};
    case 'worker':
    case 'administrator': {
      const who = callsAsDoor(http)
        ? await inNameOfDevice(context, byDoor, http)
        : await signedIn(context, cookieOf(context, http, SESSION));
      if (who === undefined) throw new Problem('not-signed-in', 401, 'Please sign in');
      if (access === 'administrator' && who.account.role !== 'administrator')
        throw new Problem('not-allowed', 403, 'This is for the office’s administrators');
      return { who };
    }
  }
}

function parse<T extends z.ZodType>(schema: T, value: unknown, what: string): z.output<T> {
  if (schema === (nothing as z.ZodType)) return {} as z.output<T>;
  const parsed = z.safeDecode(schema, value as never);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw invalid(`${what}${issue!.path.length > 0 ? ` ${issue!.path.join('.')}` : ''}: ${issue!.message}`);
}

const takesBody = ({ method, body }: Endpoint): boolean => (method === 'POST' || method === 'PUT') && body !== nothing;

export type Mount = <E extends Endpoint>(
  endpoint: E,
  handle: (request: Request<E>) => Promise<Reply<E> | void>,
) => void;

export function mounter(routers: Routers, context: Context, mounted: Set<Endpoint>): Mount {
  const bodies = new BodyBudget();
  return (endpoint, handle) => {
    mounted.add(endpoint);
    const verb = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
    routers.of(endpoint.path)[verb](endpoint.path, async (http: RouterContext) => {
      const admitted = await admit(context, endpoint, http);
      const params = parse(endpoint.params, http.params, 'Path');
      const query = parse(endpoint.query, { ...http.query }, 'Query');
      const raw = takesBody(endpoint) ? await readBody(http, endpoint, bodies) : passOverBody(http);
      const body = endpoint.body === rawBytes ? raw : parse(endpoint.body, raw ?? {}, 'Body');
      http.set('Cache-Control', 'no-store');
      if (endpoint.versioned) {
        // Before it is answered: what changes while it is, the next version tells.
        const version = await versionOf(context, admitted.who!.account.id);
        http.set('ETag', version);
        // Koa's own `fresh` won't do: browsers add “no-cache” to what a page asks with a version of its own.
        if (http.get('If-None-Match') === version) {
          http.status = 304;
          return;
        }
      }
      const reply = await handle({ params, query, body, ip: http.ip, http, ...admitted } as never);
      if (endpoint.reply === (eventStream as z.ZodType)) return;
      if (endpoint.reply === rawBytes) {
        http.type = 'application/octet-stream';
        const bytes = reply as Uint8Array;
        http.body = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      } else {
        // As text: given an object, Koa makes its text once for its length and once more to send it.
        http.set('Content-Type', 'application/json; charset=utf-8');
        http.body = JSON.stringify(z.encode(endpoint.reply, (reply ?? {}) as never));
      }
    });
  };
}
