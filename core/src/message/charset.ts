/** Text of any character set that mail names (RFC 2045 §5.1), by the engine's own decoders (WHATWG Encoding). */

const latin1 = new TextDecoder('windows-1252');

/** Whole and in one step. By the stream: Node 20 reads octets 0x80 to 0x9F of windows-1252 wrongly without. */
const decoded = (decoder: TextDecoder, bytes: Uint8Array): string =>
  decoder.decode(bytes, { stream: true }) + decoder.decode();

/** UTF-8 where it is that, as most unlabelled text is; else what old programs wrote. */
function guessed(bytes: Uint8Array): string {
  try {
    return decoded(new TextDecoder('utf-8', { fatal: true }), bytes);
  } catch {
    return decoded(latin1, bytes);
  }
}

/**
 * Text in the character set `label`; an unknown one, none, or plain ASCII is looked at for what it is. Never throws.
 */
export function decodeText(bytes: Uint8Array, label: string | undefined): string {
  const name = label?.trim().toLowerCase() ?? '';
  if (name === '' || name === 'us-ascii' || name === 'ascii' || name === 'utf-8' || name === 'utf8')
    return guessed(bytes);
  try {
    return decoded(new TextDecoder(name), bytes);
  } catch {
    return guessed(bytes);
  }
}
