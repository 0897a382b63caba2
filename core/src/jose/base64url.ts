/** base64url of much (RFC 4648 §5, without padding): by the engine's own coder where there is one, else in pieces. */
import { trimmedEnd } from '../trim-end';
import { type Bytes, concat } from '../bytes';

interface NewCoder {
  toBase64?: (options: { alphabet: 'base64url'; omitPadding: boolean }) => string;
}
interface NewDecoder {
  fromBase64?: (text: string, options: { alphabet: 'base64url'; lastChunkHandling: 'strict' | 'loose' }) => Bytes;
}

/** A multiple of three, small enough for the engine's argument list. */
const PIECE = 24_576;

export function fastBase64Url(bytes: Bytes): string {
  const own = (bytes as NewCoder).toBase64;
  if (own !== undefined) return own.call(bytes, { alphabet: 'base64url', omitPadding: true });
  const pieces: string[] = [];
  for (let at = 0; at < bytes.length; at += PIECE)
    pieces.push(btoa(String.fromCharCode(...bytes.subarray(at, at + PIECE))));
  return trimmedEnd(pieces.join('').replace(/\+/g, '-').replace(/\//g, '_'), '=');
}

/** A multiple of four. */
const TEXT_PIECE = 32_768;

/** @throws when it is no base64url */
export function fromFastBase64Url(text: string): Bytes {
  if (!/^[A-Za-z0-9_-]*$/.test(text) || text.length % 4 === 1) throw new TypeError('Not base64url');
  const own = (Uint8Array as NewDecoder).fromBase64;
  if (own !== undefined) return own(text, { alphabet: 'base64url', lastChunkHandling: 'loose' });
  const pieces: Uint8Array[] = [];
  for (let at = 0; at < text.length; at += TEXT_PIECE)
    pieces.push(
      Uint8Array.from(
        atob(
          text
            .slice(at, at + TEXT_PIECE)
            .replace(/-/g, '+')
            .replace(/_/g, '/'),
        ),
        (one) => one.charCodeAt(0),
      ),
    );
  return concat(...pieces);
}
