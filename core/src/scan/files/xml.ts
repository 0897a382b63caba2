/**
 * XML of office files as a walk over its elements: by htmlparser2, which takes linear time and resolves no entity but
 * XML's own five and figures, so that a document can't grow while it is read.
 */
import { Parser } from 'htmlparser2';

/** Deeper than any office program nests. */
const DEEPEST = 400;

export class XmlTooDeepError extends Error {}

export interface Walk {
  open?: (name: string, attributes: Readonly<Record<string, string>>) => void;
  text?: (text: string) => void;
  close?: (name: string) => void;
}

/** Names with their prefix, as written. @throws XmlTooDeepError */
export function walkXml(bytes: Uint8Array, { open, text, close }: Walk): void {
  let depth = 0;
  const parser = new Parser(
    {
      onopentag(name, attributes) {
        depth += 1;
        if (depth > DEEPEST) throw new XmlTooDeepError();
        open?.(name, attributes);
      },
      ontext: (piece) => text?.(piece),
      onclosetag(name) {
        depth -= 1;
        close?.(name);
      },
    },
    { xmlMode: true, decodeEntities: true },
  );
  parser.write(new TextDecoder(isUtf16(bytes) ?? 'utf-8').decode(bytes));
  parser.end();
}

/**
 * All that stands within elements of these names, with a line's end after each of those it is parted by.
 *
 * @throws XmlTooDeepError
 */
export function textWithin(bytes: Uint8Array, within: RegExp, parted = within): string {
  const out: string[] = [];
  let depth = 0;
  walkXml(bytes, {
    open: (name) => void (within.test(name) && (depth += 1)),
    text: (text) => void (depth > 0 && out.push(text)),
    close(name) {
      if (within.test(name)) depth -= 1;
      if (parted.test(name)) out.push('\n');
    },
  });
  return out.join('');
}

const isUtf16 = (bytes: Uint8Array): string | undefined =>
  bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : undefined;
