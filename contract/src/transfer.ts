/** Sealed bytes to the server and back where nobody watches: what is there already is not sent again. */
import { between, type Bytes, concat, lengthOf, type Pieces } from '@under-lock/core/bytes';
import { getBlob, getPart, PART_BYTES, partCount, putPart, startBlob } from './blob';
import { type Client } from './client';

/** @throws ApiProblem */
export async function putBlob(client: Client, id: string, content: Pieces): Promise<void> {
  const size = lengthOf(content);
  const { received } = await client(startBlob, { body: { id, size } });
  for (let index = 0; index < partCount(size); index++) {
    if (received.includes(index)) continue;
    const body = between(content, index * PART_BYTES, Math.min((index + 1) * PART_BYTES, size));
    await client(putPart, { params: { id, index }, body });
  }
}

/** @throws ApiProblem */
export async function fetchBlob(client: Client, id: string): Promise<Bytes> {
  const { size } = await client(getBlob, { params: { id } });
  const parts: Bytes[] = [];
  for (let index = 0; index < partCount(size); index++) parts.push(await client(getPart, { params: { id, index } }));
  return concat(...parts);
}
