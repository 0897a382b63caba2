/** Whether octets begin as content under this lock does, made by whoever follows the standard (RFC 9580 §5.13.2). */
import { AES256, GCM, MAX_CHUNK_OCTET, PACKET_SEIPD, packetStart, SALT, TAG, VERSION } from './content';

/** As many octets as {@link recogniseContent} looks at. */
export const CONTENT_START = 16;

/** @param size Octets of all of it. */
export function recogniseContent(start: Uint8Array, size: number): boolean {
  const body = packetStart(start);
  if (start[0] !== PACKET_SEIPD || body === undefined || size < body + 4 + SALT + TAG) return false;
  const [version, cipher, aead, chunkOctet = NaN] = start.subarray(body);
  return version === VERSION && cipher === AES256 && aead === GCM && chunkOctet <= MAX_CHUNK_OCTET;
}
