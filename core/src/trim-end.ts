/**
 * A text without these characters at its end. A pattern such as `=+$` begins anew at each of them, and takes the square
 * of their number.
 */
export function trimmedEnd(text: string, characters: string): string {
  let end = text.length;
  while (end > 0 && characters.includes(text[end - 1]!)) end -= 1;
  return text.slice(0, end);
}
