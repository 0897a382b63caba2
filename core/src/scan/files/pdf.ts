/** The words of a PDF's pages, of its forms and of remarks on it, as pdf.js gives them; where that runs, whoever runs it knows. */
import { inTurn } from '../../in-turn';
import { TooSlowError, within } from '../../within';
import { type Piece } from './piece';

/** Longer than any page takes; a file that is made to take longer is given up. */
const A_PAGE_MS = 20_000;
const MOST_PAGES = 2_000;
/** Pages under way at once, those that come next among them: pdf.js works in a thread of its own. */
const AHEAD = 4;

/** What is used of a document of pdf.js. */
export interface PdfDocument<Page extends PdfPage = PdfPage> {
  numPages: number;
  getPage(number: number): Promise<Page>;
}
export interface PdfPage {
  getTextContent(): Promise<{ items: readonly object[] }>;
  getAnnotations(): Promise<object[]>;
  cleanup(): void;
}

interface Item {
  str?: string;
  hasEOL?: boolean;
}
interface Remark {
  fieldValue?: unknown;
  contentsObj?: { str?: unknown };
}

/** @throws TooSlowError */
export const inPageTime = <T>(work: Promise<T>): Promise<T> => within(work, A_PAGE_MS);

interface Words {
  body: string;
  form: string;
}

async function pageWords(document: PdfDocument, number: number): Promise<Words> {
  const page = await inPageTime(document.getPage(number));
  const items = (await inPageTime(page.getTextContent())).items as readonly Item[];
  const remarks = (await inPageTime(page.getAnnotations())) as Remark[];
  page.cleanup();
  return {
    body: items.map(({ str, hasEOL }) => (str === undefined ? '' : `${str}${hasEOL === true ? '\n' : ''}`)).join(''),
    form: remarks
      .flatMap(({ fieldValue, contentsObj }) => [fieldValue, contentsObj?.str].flat())
      .filter((value): value is string => typeof value === 'string' && value !== '')
      .join('\n'),
  };
}

/**
 * @param open Resolves with the document; what pdf.js throws is told in a piece.
 * @param read The words that a page without any shows; undefined where nobody looks.
 */
export async function* pdfPieces<Page extends PdfPage>(
  name: string,
  open: () => Promise<PdfDocument<Page>>,
  read: (document: PdfDocument<Page>, page: number) => Promise<string | undefined> = async () => undefined,
): AsyncGenerator<Piece> {
  const files = [name];
  try {
    const document = await inPageTime(open());
    let page = 0;
    const words = inTurn(Math.min(document.numPages, MOST_PAGES), AHEAD, (index) => pageWords(document, index + 1));
    for await (const { body, form } of words) {
      page += 1;
      if (body.trim() === '' && form === '') {
        const text = await read(document, page);
        yield text === undefined
          ? { place: { files, page }, unread: 'picture' }
          : { place: { files, page, part: 'picture' }, text };
      }
      if (body.trim() !== '') yield { place: { files, page }, text: body };
      if (form !== '') yield { place: { files, page, part: 'form' }, text: form };
    }
    if (document.numPages > MOST_PAGES) yield { place: { files }, unread: 'too-long' };
  } catch (error) {
    const isLocked = error instanceof Error && error.name === 'PasswordException';
    yield {
      place: { files },
      unread: isLocked ? 'locked' : error instanceof TooSlowError ? 'too-long' : 'damaged',
    };
  }
}
