/**
 * pdf.js, loaded only where a PDF is looked at, as the ES modules it is published as: the bundler can't take them. Each
 * document is read in a thread of its own, which ends with it.
 */
import { defined } from '@under-lock/core/defined';
import type * as PdfJsModule from 'pdfjs-dist';
import { type PDFDocumentProxy } from 'pdfjs-dist';
import { watched } from '../watched';
import { pdfSettings } from '../pdf-settings';

type PdfJs = typeof PdfJsModule;

export const MAX_PAGES = 200;
let loading: Promise<PdfJs> | undefined;

/** pdf.js announces itself as `pdfjsLib` when its module has run. */
function loadPdfJs(base: string): Promise<PdfJs> {
  return (loading ??= new Promise<PdfJs>((resolve, reject) => {
    const script = Object.assign(document.createElement('script'), { type: 'module', src: `${base}/pdf.min.mjs` });
    script.onload = () => resolve((globalThis as unknown as { pdfjsLib: PdfJs }).pdfjsLib);
    script.onerror = () => {
      loading = undefined;
      reject(new Error('pdf.js could not be loaded'));
    };
    document.head.append(script);
  }));
}

export interface OpenedPdf {
  document: PDFDocumentProxy;
  /**
   * Waits for what is asked of the document. @throws ThreadStuckError when its thread does not answer any more; it is
   * ended then
   */
  watched<T>(work: Promise<T>): Promise<T>;
  end(): void;
}

/**
 * `base` is where pdf.js lies. Scripts and forms in the document are left out. @throws ThreadStuckError; whatever
 * pdf.js says of a damaged one
 */
export async function openPdf(bytes: Uint8Array, base: string, password?: string): Promise<OpenedPdf> {
  const library = await loadPdfJs(base);
  const thread = new Worker(`${base}/pdf.worker.min.mjs`, { type: 'module' });
  const worker = library.PDFWorker.create({ port: thread });
  const end = (): void => {
    worker.destroy();
    thread.terminate();
  };
  const task = library.getDocument({
    data: bytes.slice(),
    worker,
    ...pdfSettings(base),
    ...defined({ password }),
  });
  try {
    // Nothing can be asked of it before it is open.
    const opened = await watched(task.promise, { ask: () => new Promise(() => undefined), end });
    return { document: opened, watched: (work) => watched(work, { ask: () => opened.getMetadata(), end }), end };
  } catch (error) {
    end();
    throw error;
  }
}

const PAPER_DPI = 150;

/** Every page as a picture for paper (data URLs of PNG at 150 dots an inch). */
export async function pagesForPaper(bytes: Uint8Array, base: string): Promise<string[]> {
  const pdf = await openPdf(bytes, base);
  try {
    const pages: string[] = [];
    for (let number = 1; number <= Math.min(pdf.document.numPages, MAX_PAGES); number++) {
      const page = await pdf.watched(pdf.document.getPage(number));
      const viewport = page.getViewport({ scale: PAPER_DPI / 72 });
      const canvas = Object.assign(document.createElement('canvas'), {
        width: Math.round(viewport.width),
        height: Math.round(viewport.height),
      });
      await pdf.watched(page.render({ canvas, viewport, annotationMode: 0 }).promise);
      pages.push(canvas.toDataURL('image/png'));
    }
    return pages;
  } finally {
    pdf.end();
  }
}
