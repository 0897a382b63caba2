/** What a request of the outside world's door brings: JSON of a modest size, of the shape that is expected. */
import { type z } from 'zod';

const MAX_BODY = 64 * 1024;

export async function json(request: NodeJS.ReadableStream): Promise<unknown> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > MAX_BODY) throw Object.assign(new Error('too large'), { status: 413, expose: true });
    chunks.push(chunk);
  }
  try {
    return JSON.parse(Buffer.concat(chunks).toString('utf8')) as unknown;
  } catch {
    throw Object.assign(new Error('not JSON'), { status: 400, expose: true });
  }
}

export function checked<T extends z.ZodType>(schema: T, value: unknown): z.output<T> {
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw Object.assign(new Error(parsed.error.issues[0]!.message), { status: 400, expose: true });
  return parsed.data;
}
