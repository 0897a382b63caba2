/** Sealed bytes to the server and back, in parts: what is there already is not sent again. */
import { deleteBlob, getBlob, getPart, PART_BYTES, partCount, putPart, startBlob } from '@under-lock/contract/blob';
import { createClient } from '@under-lock/contract/client';
import { overHiccups } from '@under-lock/contract/over-hiccups';
import { between, type Bytes, concat, lengthOf, type Pieces } from '@under-lock/core/bytes';

const client = createClient(self.location.origin);

const running = new Map<string, AbortController>();
/** Cancelled before they began: sealing comes first, and goes on to its end. */
const cancelled = new Set<string>();

/** Ends a transfer, also one that is still to begin; what has arrived stays and is taken up by the next try. */
export function cancelTransfer(id: string): void {
  const control = running.get(id);
  if (control === undefined) cancelled.add(id);
  else control.abort();
}

/** What is to be sent under these numbers is wanted again. */
export const allowTransfers = (ids: readonly string[]): void => ids.forEach((id) => cancelled.delete(id));

const sendPart = (id: string, index: number, body: Bytes, signal: AbortSignal): Promise<unknown> =>
  overHiccups(() => client(putPart, { params: { id, index }, body, signal }));

/**
 * Uploads `sealed`, in pieces as if they were one, under `id`; `progress` is told the share that has arrived. @throws ApiProblem; DOMException
 * AbortError when cancelled
 */
export async function upload(id: string, sealed: Pieces, progress: (done: number) => void): Promise<void> {
  const size = lengthOf(sealed);
  const control = new AbortController();
  if (cancelled.has(id)) control.abort();
  running.set(id, control);
  try {
    control.signal.throwIfAborted();
    const { received } = await client(startBlob, { body: { id, size }, signal: control.signal });
    const there = new Set(received);
    const count = partCount(size);
    const missing = Array.from({ length: count }, (_, index) => index).filter((index) => !there.has(index));
    let arrived = there.size;
    progress(arrived / count);
    const lane = async (): Promise<void> => {
      for (let index = missing.shift(); index !== undefined; index = missing.shift()) {
        const part = between(sealed, index * PART_BYTES, Math.min((index + 1) * PART_BYTES, size));
        await sendPart(id, index, part, control.signal);
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
