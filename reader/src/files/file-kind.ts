/** What a file is, as far as the page can show it. */
import { type MessageFile } from '@under-lock/core/message/content';

export type FileKind = 'picture' | 'pdf' | 'text' | 'other';

const startsWith = (bytes: Uint8Array, ...start: number[]): boolean =>
  start.every((octet, index) => bytes[index] === octet);

/** By its first bytes where there are some, not by what its name says. */
export function kindOf({ name, type, bytes }: MessageFile): FileKind {
  if (startsWith(bytes, 0x25, 0x50, 0x44, 0x46)) return 'pdf';
  if (
    startsWith(bytes, 0xff, 0xd8, 0xff) ||
    startsWith(bytes, 0x89, 0x50, 0x4e, 0x47) ||
    startsWith(bytes, 0x47, 0x49, 0x46, 0x38)
  )
    return 'picture';
  if (startsWith(bytes, 0x52, 0x49, 0x46, 0x46) && bytes[8] === 0x57 && bytes[9] === 0x45) return 'picture';
  if (
    (type === 'text/plain' || type === 'text/csv' || /\.(txt|csv|md|log)$/i.test(name)) &&
    !bytes.subarray(0, 4096).includes(0)
  )
    return 'text';
  return 'other';
}
