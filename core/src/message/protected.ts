/** A message's content with its header fields inside, so that whatever locks it protects them, too (RFC 9788). */
import { type Bytes, concat, utf8 } from '../bytes';
import { contentPart, headerFields, type Part } from './build';
import { type MessageContent } from './content';

const withParameter = ({ headers, body }: Part, parameter: string): Part => ({
  headers: headers.replace(
    /^(Content-Type: [^\r]*?;?(?:\r\n [^\r]*?;?)*)\r\n(?! )/,
    (_, type: string) => `${type.replace(/;$/, '')};\r\n ${parameter}\r\n`,
  ),
  body,
});

/**
 * Payload with its header fields inside (RFC 9788 §2.1); `HP-Outer` says what stands outside, so that a changed outer
 * field is noticed.
 */
export function protectedPart(message: MessageContent, protection: 'clear' | 'cipher', outer: readonly string[]): Part {
  const part = withParameter(contentPart(message), `hp="${protection}"`);
  const inner = headerFields(message);
  const stated = protection === 'cipher' ? outer.map((field) => `HP-Outer: ${field}`) : [];
  return { headers: `${inner.join('')}${stated.join('')}${part.headers}`, body: part.body };
}

/** The part as it stands, in one piece: what is signed, what is encrypted, and below a mail's own fields the mail. */
export const wholePart = ({ headers, body }: Part, before = ''): Bytes =>
  concat(utf8(`${before}${headers}\r\n`), ...body);
