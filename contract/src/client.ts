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
  const spelled = search.toString();
  return spelled === '' ? path : `${path}?${spelled}`;
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

/** Of answers that carry a version, so many are kept. */
const MOST_KEPT = 60;

/** The latest answers with a version, by address, while the page lives. */
export class KeptAnswers {
  private readonly kept = new Map<string, { version: string; answer: unknown }>();

  forget(): void {
    this.kept.clear();
  }

  get(target: string): { version: string; answer: unknown } | undefined {
    return this.kept.get(target);
  }

  keep(target: string, version: string | null, answer: unknown): void {
    this.kept.delete(target);
    if (version === null) return;
    this.kept.set(target, { version, answer });
    const [oldest] = this.kept.keys();
    if (this.kept.size > MOST_KEPT && oldest !== undefined) this.kept.delete(oldest);
  }
}

/**
 * `kept`: where answers with a version are kept, so that only what has changed comes again.
 * @throws ApiProblem for every answer that is not a success; DOMException AbortError when `signal` says so.
 */
export function createClient(
  origin: string,
  fetcher: typeof fetch = (...args) => fetch(...args),
  kept?: KeptAnswers,
): Client {
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
    const before = endpoint.versioned ? kept?.get(target) : undefined;
    // Asked so by a page, a browser looks into no store of its own.
    if (before !== undefined) request.headers = { 'If-None-Match': before.version };
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
    if (response.status === 304 && before !== undefined) return before.answer;
    if (!response.ok) throw await problemFrom(response);
    if (endpoint.reply === rawBytes) return new Uint8Array(await response.arrayBuffer());
    const answer = z.decode(
      endpoint.reply,
      response.status === 204 ? {} : ((await response.json()) as Record<string, unknown>),
    );
    if (endpoint.versioned) kept?.keep(target, response.headers.get('ETag'), answer);
    return answer;
  };
  return call as unknown as Client;
}
