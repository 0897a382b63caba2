/** PDF files by pdf.js as it is published, in a thread of its own; pages without words as pictures. */
import { inPageTime, type PdfDocument, pdfPieces as piecesOfPdf } from '@under-lock/core/scan/files/pdf';
import { type Piece } from '@under-lock/core/scan/files/piece';
import { type FileToScan } from '@under-lock/core/scan/files/read';
import { pdfSettings } from '@under-lock/reader/pdf-settings';
import type * as PdfJs from 'pdfjs-dist';

const BASE = '/pdf';
/** So many points of a picture for one of the page: 200 to the inch. */
const ENLARGED = 200 / 72;
const MOST_POINTS = 20_000_000;

/** A page as a picture. pdf.js takes a canvas that no page shows. */
async function pictureOf(document: PdfDocument<PdfJs.PDFPageProxy>, number: number): Promise<ImageBitmap> {
  const page = await inPageTime(document.getPage(number));
  const { width, height } = page.getViewport({ scale: 1 });
  const scale = Math.min(ENLARGED, Math.sqrt(MOST_POINTS / (width * height)));
  const viewport = page.getViewport({ scale });
  const canvas = new OffscreenCanvas(Math.ceil(viewport.width), Math.ceil(viewport.height));
  await inPageTime(page.render({ canvas: canvas as unknown as HTMLCanvasElement, viewport }).promise);
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
  const library = (await import(`${BASE}/pdf.min.mjs`)) as typeof PdfJs;
  const thread = new Worker(`${BASE}/pdf.worker.min.mjs`, { type: 'module' });
  const worker = library.PDFWorker.create({ port: thread });
  const open = (): Promise<PdfJs.PDFDocumentProxy> =>
    library.getDocument({
      data: bytes.slice(),
      worker,
      ...pdfSettings(BASE),
      // Else it asks the page, which a thread has not.
      useWorkerFetch: true,
      disableFontFace: true,
      useSystemFonts: false,
      CanvasFactory: ApartCanvases,
      FilterFactory: NoFilters,
    }).promise;
  try {
    yield* piecesOfPdf(name, open, read && (async (document, page) => read(await pictureOf(document, page))));
  } finally {
    worker.destroy();
    thread.terminate();
  }
}
