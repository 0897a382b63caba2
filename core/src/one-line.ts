/**
 * Text for a place of one line, such as a subject. Long ones are folded in mail, by many programs with a tab (RFC 5322
 * §2.2.3), and an encoded word may hold anything: line ends, tabs and other control characters are blanks here.
 */
export const oneLine = (text: string): string => text.replace(/\p{Cc}+/gu, ' ').trim();
