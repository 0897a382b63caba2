import { z } from 'zod';
import { createClient } from '../src/client';
import { bytes, instant, line } from '../src/endpoint';
import { allEndpoints } from '../src/index';
import { dispatchMessage } from '../src/outgoing';
import { isProblem } from '../src/problem';
import { getSession } from '../src/account';
import { getPart, putPart } from '../src/blob';

const answering = (status: number, body: unknown) =>
  (async () =>
    new Response(body instanceof Uint8Array ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body), {
      status,
    })) as typeof fetch;

test('bytes and instants go out as text and come back as what they were', () => {
  const schema = z.object({ share: bytes(2, 4), at: instant });
  const value = { share: Uint8Array.of(1, 2, 255), at: new Date('2026-11-24T10:00:00Z') };
  expect(z.encode(schema, value)).toEqual({ share: 'AQL_', at: '2026-11-24T10:00:00.000Z' });
  expect(z.decode(schema, z.encode(schema, value))).toEqual(value);
});

test.each([['A'], ['AQ=='], ['AQLA_wA'], ['AQ'], ['not base64url!'], [5]])(
  '%j is no share of two to four bytes',
  (text) => expect(z.safeDecode(bytes(2, 4), text as string).success).toBe(false),
);
test.each([['two\nlines'], ['a\u0000b'], ['x'.repeat(11)]])('%j is no line of ten', (text) =>
  expect(line(10).safeParse(text).success).toBe(false),
);

test('no two endpoints share method and path, and every path parameter is in its schema', () => {
  const names = allEndpoints.map(({ method, path }) => `${method} ${path}`);
  expect(new Set(names).size).toBe(names.length);
  for (const { path, params } of allEndpoints)
    for (const [, name] of path.matchAll(/:(\w+)/g)) expect(Object.keys((params as z.ZodObject).shape)).toContain(name);
});

test('problems keep their code; no answer at all is a problem of its own', async () => {
  const problem = { type: 'about:blank', title: 'Please sign in', status: 401, code: 'not-signed-in' };
  const refused = await createClient('http://x', answering(401, problem))(getSession).catch((error: unknown) => error);
  expect(isProblem(refused, 'not-signed-in')).toBe(true);
  expect(
    isProblem(
      await createClient('http://x', answering(502, 'a proxy’s page'))(getSession).catch((error: unknown) => error),
      'server-error',
    ),
  ).toBe(true);
  expect(
    isProblem(
      await createClient('http://x', (async () => {
        throw new TypeError('fetch failed');
      }) as typeof fetch)(getSession).catch((error: unknown) => error),
      'unreachable',
    ),
  ).toBe(true);
});

test('raw bytes travel raw', async () => {
  const sent: RequestInit[] = [];
  const client = createClient('http://x', (async (_url: string, init: RequestInit) => {
    sent.push(init);
    return new Response('{}');
  }) as unknown as typeof fetch);
  await client(putPart, { params: { id: crypto.randomUUID(), index: 3 }, body: Uint8Array.of(1, 2) });
  expect(sent[0]).toMatchObject({
    method: 'PUT',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: Uint8Array.of(1, 2),
  });
  expect(
    await createClient('http://x', answering(200, Uint8Array.of(9, 8)))(getPart, {
      params: { id: crypto.randomUUID(), index: 0 },
    }),
  ).toEqual(Uint8Array.of(9, 8));
});

test('what does not fit the schema never leaves', async () => {
  let called = false;
  const client = createClient('http://x', (async () => {
    called = true;
    return new Response('{}');
  }) as typeof fetch);
  await expect(
    client(dispatchMessage, { params: { id: 'x' }, body: { contentBlobId: 'x' } as never }),
  ).rejects.toThrow();
  expect(called).toBe(false);
});
