/** Sealed bytes to the server and back, in parts: what is there already is not sent again. */
import { deleteBlob, getBlob, getPart, PART_BYTES, partCount, putPart, startBlob } from '@under-lock/contract/blob';
import { createClient } from '@under-lock/contract/client';
import { isProblem } from '@under-lock/contract/problem';
import { type Bytes, concat } from '@under-lock/core/bytes';

const client = createClient(self.location.origin);
const RETRIES = 3;

const running = new Map<string, AbortController>();

/** Ends a transfer that `upload` was started for; what has arrived stays and is taken up by the next try. */
export const cancelTransfer = (id: string): void => running.get(id)?.abort();

async function sendPart(id: string, index: number, body: Bytes, signal: AbortSignal): Promise<void> {
  for (let tries = 0; ; tries++) {
    try {
      await client(putPart, { params: { id, index }, body, signal });
      return;
    } catch (error) {
      // A hiccup on the line is not worth the worker's attention; a longer one is.
      if (!isProblem(error, 'unreachable') || tries >= RETRIES) throw error;
      await new Promise((done) => setTimeout(done, 400 * 2 ** tries));
    }
  }
}

/** Uploads `sealed` under `id`; `progress` is told the share that has arrived. @throws ApiProblem; DOMException AbortError when cancelled */
export async function upload(id: string, sealed: Bytes, progress: (done: number) => void): Promise<void> {
  const control = new AbortController();
  running.set(id, control);
  try {
    const { received } = await client(startBlob, { body: { id, size: sealed.length }, signal: control.signal });
    const there = new Set(received);
    const count = partCount(sealed.length);
    const missing = Array.from({ length: count }, (_, index) => index).filter((index) => !there.has(index));
    let arrived = there.size;
    progress(arrived / count);
    const lane = async (): Promise<void> => {
      for (let index = missing.shift(); index !== undefined; index = missing.shift()) {
        await sendPart(id, index, sealed.slice(index * PART_BYTES, (index + 1) * PART_BYTES), control.signal);
        arrived += 1;
        progress(arrived / count);
      }
    };
    await Promise.all([lane(), lane()]);
  } finally {
    running.delete(id);
  }
}

export async function download(id: string): Promise<Bytes> {
  const { size } = await client(getBlob, { params: { id } });
  const parts: Bytes[] = [];
  for (let index = 0; index < partCount(size); index++) parts.push(await client(getPart, { params: { id, index } }));
  return concat(...parts);
}

export const discard = async (id: string): Promise<void> => void (await client(deleteBlob, { params: { id } }));
