/** The words of a PDF's pages, of its forms and of remarks on it, by pdf.js as it is published; in a thread of its own. */
import { type Piece } from '@under-lock/core/scan/files/piece';
import { type FileToScan } from '@under-lock/core/scan/files/read';
import { pdfSettings } from '@under-lock/reader/pdf-settings';
import type * as PdfJs from 'pdfjs-dist';
import { TooSlowError, within } from './within';

const BASE = '/pdf';
/** Longer than any page takes; a file that is made to take longer is given up. */
const A_PAGE_MS = 20_000;
const MOST_PAGES = 2_000;

const inTime = <T>(work: Promise<T>): Promise<T> => within(work, A_PAGE_MS);

interface Remark {
  fieldValue?: unknown;
  contentsObj?: { str?: unknown };
}

async function pageWords(document: PdfJs.PDFDocumentProxy, number: number): Promise<{ body: string; form: string }> {
  const page = await inTime(document.getPage(number));
  const { items } = await inTime(page.getTextContent());
  const remarks = (await inTime(page.getAnnotations())) as Remark[];
  page.cleanup();
  return {
    body: items.map((item) => ('str' in item ? `${item.str}${item.hasEOL ? '\n' : ''}` : '')).join(''),
    form: remarks
      .flatMap(({ fieldValue, contentsObj }) => [fieldValue, contentsObj?.str].flat())
      .filter((value): value is string => typeof value === 'string' && value !== '')
      .join('\n'),
  };
}

/** So many points of a picture for one of the page: 200 to the inch. */
const ENLARGED = 200 / 72;
const MOST_POINTS = 20_000_000;

/** A page as a picture. pdf.js takes a canvas that no page shows. */
async function pictureOf(document: PdfJs.PDFDocumentProxy, number: number): Promise<ImageBitmap> {
  const page = await inTime(document.getPage(number));
  const { width, height } = page.getViewport({ scale: 1 });
  const scale = Math.min(ENLARGED, Math.sqrt(MOST_POINTS / (width * height)));
  const viewport = page.getViewport({ scale });
  const canvas = new OffscreenCanvas(Math.ceil(viewport.width), Math.ceil(viewport.height));
  await inTime(page.render({ canvas: canvas as unknown as HTMLCanvasElement, viewport }).promise);
  page.cleanup();
  return canvas.transferToImageBitmap();
}

/** Canvases for pdf.js where there is no page to make them. */
class ApartCanvases {
  create(width: number, height: number) {
    const canvas = new OffscreenCanvas(width, height);
    return { canvas, context: canvas.getContext('2d') };
  }
  reset(kept: { canvas: OffscreenCanvas }, width: number, height: number): void {
    kept.canvas.width = width;
    kept.canvas.height = height;
  }
  destroy(kept: { canvas: OffscreenCanvas | null; context: unknown }): void {
    kept.canvas = kept.context = null;
  }
}

/** Without a page there are no filters; letters are read without. */
class NoFilters {
  addFilter = (): string => 'none';
  addHCMFilter = (): string => 'none';
  addAlphaFilter = (): string => 'none';
  addLuminosityFilter = (): string => 'none';
  addKnockoutFilter = (): string => 'none';
  addHighlightHCMFilter = (): string => 'none';
  destroy = (): void => undefined;
}

/** @param read Reads a page that has no words but may show some; undefined for one more than are read. */
export async function* pdfPieces(
  { name, bytes }: FileToScan,
  read?: (picture: ImageBitmap) => Promise<string | undefined>,
): AsyncGenerator<Piece> {
  const files = [name];
  const library = (await import(`${BASE}/pdf.min.mjs`)) as typeof PdfJs;
  const thread = new Worker(`${BASE}/pdf.worker.min.mjs`, { type: 'module' });
  const worker = library.PDFWorker.create({ port: thread });
  try {
    const task = library.getDocument({
      data: bytes.slice(),
      worker,
      ...pdfSettings(BASE),
      // Else it asks the page, which a thread has not.
      useWorkerFetch: true,
      disableFontFace: true,
      useSystemFonts: false,
      CanvasFactory: ApartCanvases,
      FilterFactory: NoFilters,
    });
    const document = await inTime(task.promise);
    const shown = async (page: number): Promise<Piece> => {
      const text = read === undefined ? undefined : await read(await pictureOf(document, page));
      return text === undefined
        ? { place: { files, page }, unread: 'picture' }
        : { place: { files, page, part: 'picture' }, text };
    };
    for (let page = 1; page <= Math.min(document.numPages, MOST_PAGES); page += 1) {
      const { body, form } = await pageWords(document, page);
      if (body.trim() === '' && form === '') yield await shown(page);
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
  } finally {
    worker.destroy();
    thread.terminate();
  }
}
