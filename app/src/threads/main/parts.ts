import { partCount } from '@under-lock/contract/blob';
import { type Bytes, concat } from '@under-lock/core/bytes';

/** A content of so many octets, part by part; `progress` is told the share fetched. */
export async function fetchParts(
  size: number,
  part: (index: number) => Promise<Bytes>,
  progress: (done: number) => void,
): Promise<Bytes> {
  const count = partCount(size);
  const parts: Bytes[] = [];
  for (let index = 0; index < count; index++) {
    parts.push(await part(index));
    progress((index + 1) / count);
  }
  return concat(...parts);
}
