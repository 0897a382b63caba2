/** Sealed bytes to the server and back where nobody watches: what is there already is not sent again. */
import { type Bytes, concat, type Flow } from '@under-lock/core/bytes';
import { getBlob, getPart, PART_BYTES, partCount, putPart, startBlob } from './blob';
import { type Client } from './client';

/** Pieces of any size as parts of one; each is there until the next is asked for. */
async function* partsOf({ length, pieces }: Flow): AsyncGenerator<Bytes> {
  const part = new Uint8Array(Math.min(PART_BYTES, length));
  let held = 0;
  for await (const piece of pieces)
    for (let from = 0; from < piece.length;) {
      const taken = Math.min(part.length - held, piece.length - from);
      part.set(piece.subarray(from, from + taken), held);
      from += taken;
      held += taken;
      if (held < part.length) continue;
      yield part;
      held = 0;
    }
  if (held > 0) yield part.subarray(0, held);
}

/** @throws ApiProblem */
export async function putBlob(client: Client, id: string, content: Flow): Promise<void> {
  const { received } = await client(startBlob, { body: { id, size: content.length } });
  let index = 0;
  for await (const body of partsOf(content)) {
    // A request keeps a copy of what it was given (Fetch, “extract a body”).
    if (!received.includes(index)) await client(putPart, { params: { id, index }, body });
    index += 1;
  }
}

/** @throws ApiProblem */
export async function fetchBlob(client: Client, id: string): Promise<Bytes> {
  const { size } = await client(getBlob, { params: { id } });
  const parts: Bytes[] = [];
  for (let index = 0; index < partCount(size); index++) parts.push(await client(getPart, { params: { id, index } }));
  return concat(...parts);
}
