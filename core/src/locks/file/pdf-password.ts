/**
 * The octets of a password that open a PDF. Revisions 5 and 6 take UTF-8 (ISO 32000-2, §7.6.4.3.3), the older ones
 * PDFDocEncoding (§7.6.4.3.2 and Annex D.3); programs that knew neither
 * took UTF-8 or windows-1252 there, too. Left out: SASLprep beyond NFKC, which changes nothing that a keyboard types.
 */
import { type Bytes, sameBytes } from '../../bytes';

const spread = (from: number, characters: string): [string, number][] =>
  [...characters].map((character, index) => [character, from + index]);
/** Annex D.3: where PDFDocEncoding is not latin-1. */
const PDF_DOC = new Map([
  ...spread(0x18, '˘ˇˆ˙˝˛˚˜'),
  ...spread(0x80, '•†‡…—–ƒ⁄‹›−‰„“”‘’‚™ﬁﬂŁŒŠŸŽıłœšž'),
  ...spread(0xa0, '€'),
]);
/** The WHATWG's table of windows-1252: where it is not latin-1. */
const WINDOWS = new Map([
  ...spread(0x80, '€'),
  ...spread(0x82, '‚ƒ„…†‡ˆ‰Š‹Œ'),
  ...spread(0x8e, 'Ž'),
  ...spread(0x91, '‘’“”•–—˜™š›œ'),
  ...spread(0x9e, 'žŸ'),
]);

function inTable(password: string, table: ReadonlyMap<string, number>): Bytes | undefined {
  const octets = [...password].map(
    (character) =>
      table.get(character) ??
      (character.charCodeAt(0) > 0xff || character.length > 1 ? undefined : character.charCodeAt(0)),
  );
  return octets.includes(undefined) ? undefined : Uint8Array.from(octets as number[]);
}

/** Every form that may open it, the likeliest first, each once. */
export function pdfPasswords(password: string): Bytes[] {
  const typed = password.normalize('NFC');
  const utf8 = new TextEncoder();
  const forms = [
    utf8.encode(typed),
    inTable(typed, PDF_DOC),
    inTable(typed, WINDOWS),
    utf8.encode(password.normalize('NFKC')),
  ];
  return forms
    .filter((form): form is Bytes => form !== undefined)
    .filter((form, index, all) => all.findIndex((other) => sameBytes(other, form)) === index);
}
