/** Request bodies under limits; a length that lies is cut off where the limit is. */
import { PART_BYTES } from '@under-lock/contract/blob';
import { type RouterContext } from '@koa/router';
import { invalid, Problem } from '../problem';

const MAX_JSON_BYTES = 4_000_000;

async function collect(http: RouterContext, limit: number): Promise<Buffer> {
  const tooLarge = (): Problem => new Problem('too-large', 413, `The request is larger than ${limit} bytes`);
  if (Number(http.get('Content-Length') || 0) > limit) throw tooLarge();
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of http.req as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > limit) throw tooLarge();
    chunks.push(chunk);
  }
  return Buffer.concat(chunks, size);
}

export async function readBody(http: RouterContext, kind: 'json' | 'bytes'): Promise<unknown> {
  if (kind === 'bytes') {
    if (http.request.is('application/octet-stream') === false) throw new Problem('invalid-input', 415, 'This needs application/octet-stream');
    return collect(http, PART_BYTES);
  }
  if (http.request.is('application/json') === false) throw new Problem('invalid-input', 415, 'This needs application/json');
  const text = (await collect(http, MAX_JSON_BYTES)).toString('utf8');
  try {
    return text === '' ? {} : (JSON.parse(text) as unknown);
  } catch {
    throw invalid('The body is not JSON.');
  }
}
