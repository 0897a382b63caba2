/** What is put comes to the server in parts of one size, whatever pieces it is made of. */
import { concat } from '@under-lock/core/bytes';
import fc from 'fast-check';
import { getBlob, getPart, PART_BYTES, putPart, startBlob } from '../src/blob';
import { type Client } from '../src/client';
import { fetchBlob, putBlob } from '../src/transfer';

/** A server that keeps parts as they come, and has some already. */
function server(before: ReadonlyMap<number, Uint8Array> = new Map()) {
  const parts = new Map(before);
  const put: number[] = [];
  let size = 0;
  const client = (async (endpoint: unknown, input: never) => {
    const { params, body } = input as { params: { index: number }; body: never };
    if (endpoint === startBlob) {
      ({ size } = body);
      return { received: [...parts.keys()] };
    }
    if (endpoint === getBlob) return { size };
    if (endpoint === getPart) return parts.get(params.index);
    expect(endpoint).toBe(putPart);
    put.push(params.index);
    // As a request does: what is given may change as soon as it has begun.
    parts.set(params.index, new Uint8Array(body));
    return {};
  }) as unknown as Client;
  return { client, parts, put };
}

test('pieces of any size arrive as what they are together', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.integer({ min: 0, max: 2 * PART_BYTES + 999 }), { minLength: 1, maxLength: 5 }),
      async (sizes) => {
        const pieces = [...sizes, 1].map((size, index) => new Uint8Array(size).fill(index + 1));
        const whole = concat(...pieces);
        const { client, parts } = server();
        await putBlob(client, 'id', { length: whole.length, pieces });
        expect([...parts.values()].slice(0, -1).every(({ length }) => length === PART_BYTES)).toBe(true);
        expect(Buffer.compare(await fetchBlob(client, 'id'), whole)).toBe(0);
      },
    ),
    { numRuns: 15 },
  );
});

test('what is there already is not sent again', async () => {
  const whole = new Uint8Array(2.5 * PART_BYTES).map((_, index) => index >> 12);
  const { client, put } = server(new Map([[1, whole.slice(PART_BYTES, 2 * PART_BYTES)]]));
  await putBlob(client, 'id', { length: whole.length, pieces: [whole] });
  expect(put).toEqual([0, 2]);
  expect(Buffer.compare(await fetchBlob(client, 'id'), whole)).toBe(0);
});
