/** The typed client made from the endpoints. */
import { defined } from '@under-lock/core/defined';
import { type Bytes } from '@under-lock/core/bytes';
import { z } from 'zod';
import { type Endpoint, rawBytes } from './endpoint';
import { ApiProblem, problemSchema } from './problem';

type Empty = Record<never, never>;
type In<T> = T extends z.ZodType ? z.output<T> : never;
export type Input<E> =
  E extends Endpoint<infer P, infer Q, infer B, z.ZodType>
    ? (Empty extends In<P> ? { params?: In<P> } : { params: In<P> }) &
        (Empty extends In<Q> ? { query?: In<Q> } : { query: In<Q> }) &
        (Empty extends In<B> ? { body?: In<B> } : { body: In<B> }) & { signal?: AbortSignal }
    : never;
export type Reply<E> = E extends Endpoint<z.ZodType, z.ZodType, z.ZodType, infer R> ? In<R> : never;

export type Client = <E extends Endpoint>(
  endpoint: E,
  ...input: Empty extends Input<E> ? [Input<E>?] : [Input<E>]
) => Promise<Reply<E>>;

interface LooseInput {
  params?: Record<string, string | number>;
  query?: Record<string, unknown>;
  body?: unknown;
  signal?: AbortSignal;
}

function addressOf(endpoint: Endpoint, { params = {}, query = {} }: LooseInput): string {
  const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(String(params[name])));
  const search = new URLSearchParams(
    Object.entries(z.encode(endpoint.query, query) as Record<string, unknown>).flatMap(([key, value]) =>
      value === undefined ? [] : [[key, String(value)]],
    ),
  );
  return search.size === 0 ? path : `${path}?${search}`;
}

async function problemFrom(response: Response): Promise<ApiProblem> {
  const parsed = problemSchema.safeParse(await response.json().catch(() => undefined));
  if (parsed.success) return new ApiProblem(parsed.data);
  return new ApiProblem({
    type: 'about:blank',
    title: 'The server answered in a way this page does not know',
    status: response.status,
    code: response.status === 413 ? 'too-large' : 'server-error',
  });
}

/** @throws ApiProblem for every answer that is not a success; DOMException AbortError when `signal` says so. */
export function createClient(origin: string, fetcher: typeof fetch = (...args) => fetch(...args)): Client {
  const call = async (endpoint: Endpoint, input: LooseInput = {}): Promise<unknown> => {
    const raw = endpoint.body === rawBytes;
    const hasBody = endpoint.method === 'POST' || endpoint.method === 'PUT';
    // Before the try: input that does not fit the schema is the caller's mistake, not the line's.
    const request: RequestInit = {
      method: endpoint.method,
      credentials: 'same-origin',
      ...(hasBody
        ? {
            headers: { 'Content-Type': raw ? 'application/octet-stream' : 'application/json' },
            body: raw ? (input.body as Bytes) : JSON.stringify(z.encode(endpoint.body, input.body ?? {})),
          }
        : {}),
      ...defined({ signal: input.signal }),
    };
    const target = origin + addressOf(endpoint, input);
    let response: Response;
    try {
      response = await fetcher(target, request);
    } catch (error) {
      if (input.signal?.aborted === true) throw error;
      throw new ApiProblem({
        type: 'about:blank',
        title: 'No connection to the server',
        status: 0,
        code: 'unreachable',
      });
    }
    if (!response.ok) throw await problemFrom(response);
    if (endpoint.reply === rawBytes) return new Uint8Array(await response.arrayBuffer());
    return z.decode(
      endpoint.reply,
      response.status === 204 ? {} : ((await response.json()) as Record<string, unknown>),
    );
  };
  return call as unknown as Client;
}
