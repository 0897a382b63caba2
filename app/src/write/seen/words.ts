/** What the scan saw, in sentences. */
import { type Unread, type UnreadPiece } from '@under-lock/core/scan/files/piece';
import { KIND_WORDS } from '@under-lock/core/scan/finding';
import { type Seen, type Where } from '@under-lock/core/scan/message';
import { capitalised } from '@under-lock/core/first-letter';

const listWords: Record<string, string> = { addresses: 'addresses', phones: 'telephone numbers' };

/** @param nameOf What the office calls its lists and patterns. */
export const seenWords = (
  { kind, of, count }: Pick<Seen, 'kind' | 'of' | 'count'>,
  nameOf: (id: string) => string | undefined,
): string =>
  kind === 'word' || kind === 'pattern'
    ? `“${nameOf(of) ?? KIND_WORDS[kind]}”`
    : kind === 'list'
      ? `List: ${count} ${listWords[of] ?? 'entries'}`
      : capitalised(KIND_WORDS[kind]);

const partWords = {
  header: 'header',
  footer: 'footer',
  note: 'notes',
  comment: 'comments',
  form: 'form',
  properties: 'properties',
  deleted: 'deleted text',
  picture: 'read from a picture',
} as const;

export function whereWords(where: Where): string {
  if (where.in === 'subject') return 'in the subject';
  if (where.in === 'text') return 'in the text';
  if (where.in === 'name') return 'in a file’s name';
  const { files, page, sheet, cell, line, part } = where;
  return [
    `in ${files.join(' › ')}`,
    ...(sheet !== undefined ? [part === 'hidden' ? `hidden sheet ${sheet}` : `sheet ${sheet}`] : []),
    ...(part === undefined || part === 'hidden' ? [] : [partWords[part]]),
    ...(page === undefined ? [] : [`page ${page}`]),
    ...(cell === undefined ? [] : [cell]),
    ...(line === undefined || page !== undefined || line < 2 ? [] : [`line ${line}`]),
  ].join(', ');
}

const unreadWords: Record<Unread, string> = {
  locked: 'is locked',
  damaged: 'is damaged',
  'too-large': 'unpacks to more than is looked through',
  'too-deep': 'lies in too many archives',
  'too-long': 'is longer than is looked through',
  picture: 'is a picture',
  unknown: 'is of a kind that is not read here',
};

/** What a press on it reads: nothing reads pictures by itself. */
export function pictureWords(unread: readonly UnreadPiece[]): string | undefined {
  const pictures = unread.filter((piece) => piece.unread === 'picture');
  if (pictures.length === 0) return undefined;
  const what = pictures.every(({ place: { page } }) => page !== undefined) ? 'page' : 'picture';
  return pictures.length === 1 ? `Read this ${what}` : `Read these ${pictures.length} ${what}s`;
}

/** One sentence for each reason, however many pages and files it holds for. */
export function unreadSentences(unread: readonly UnreadPiece[]): string[] {
  const byFile = new Map<string, UnreadPiece[]>();
  for (const piece of unread) {
    const key = `${piece.place.files.join(' › ')}\n${piece.unread}`;
    byFile.set(key, [...(byFile.get(key) ?? []), piece]);
  }
  return [...byFile].map(([key, pieces]) => {
    const [name = ''] = key.split('\n');
    const pages = pieces.flatMap(({ place: { page } }) => (page === undefined ? [] : [page]));
    const what =
      pages.length === 0 ? name : `${name}, ${pages.length === 1 ? `page ${pages[0]}` : `${pages.length} pages`},`;
    return `${what} ${pages.length > 1 ? unreadWords[pieces[0]!.unread].replace(/^is a picture$/, 'are pictures') : unreadWords[pieces[0]!.unread]}: not looked into.`;
  });
}
