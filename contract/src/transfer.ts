/** Sealed bytes to the server and back where nobody watches: what is there already is not sent again. */
import { type Bytes, concat } from '@under-lock/core/bytes';
import { getBlob, getPart, PART_BYTES, partCount, putPart, startBlob } from './blob';
import { type Client } from './client';

/** @throws ApiProblem */
export async function putBlob(client: Client, id: string, content: Bytes): Promise<void> {
  const { received } = await client(startBlob, { body: { id, size: content.length } });
  for (let index = 0; index < partCount(content.length); index++) {
    if (received.includes(index)) continue;
    const body = content.slice(index * PART_BYTES, (index + 1) * PART_BYTES);
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
