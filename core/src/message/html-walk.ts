/** HTML as a walk over its elements, by htmlparser2, in linear time whatever it is. */
import { Parser } from 'htmlparser2';

export interface HtmlWalk {
  /** Names and attributes in small letters. */
  open(name: string, attributes: Readonly<Record<string, string>>): void;
  /** Entities are read. One text may come in several pieces. */
  text(text: string): void;
  close(name: string): void;
}

/** Deeper than any mail nests, and than browsers do. */
const DEEPEST = 600;

/**
 * The parser keeps what is open in lists that it puts each new element in front of: with every element, all of them move.
 * Of more than anybody nests the outermost are forgotten: nobody is told of their end.
 */
function forgetOutermost(parser: Parser): void {
  const { stack, foreignContext } = parser as unknown as Record<'stack' | 'foreignContext', unknown[]>;
  if (stack.length > DEEPEST) stack.pop();
  if (foreignContext.length > DEEPEST) foreignContext.pop();
}

export function walkHtml(html: string, walk: HtmlWalk): void {
  const parser = new Parser(
    {
      onopentag(name, attributes) {
        forgetOutermost(parser);
        walk.open(name, attributes);
      },
      ontext: (text) => walk.text(text),
      onclosetag: (name) => walk.close(name),
    },
    { decodeEntities: true, lowerCaseTags: true },
  );
  parser.write(html);
  parser.end();
}
