/** pdf.js, loaded only where a PDF is looked at, as the ES modules it is published as: the bundler can't take them. */
import type * as PdfJsModule from 'pdfjs-dist';
import { type PDFDocumentProxy } from 'pdfjs-dist';

type PdfJs = typeof PdfJsModule;

export const MAX_PAGES = 200;
let loading: Promise<PdfJs> | undefined;

/** pdf.js announces itself as `pdfjsLib` when its module has run. */
function loadPdfJs(base: string): Promise<PdfJs> {
  return (loading ??= new Promise<PdfJs>((resolve, reject) => {
    const script = Object.assign(document.createElement('script'), { type: 'module', src: `${base}/pdf.min.mjs` });
    script.onload = () => {
      const library = (globalThis as unknown as { pdfjsLib: PdfJs }).pdfjsLib;
      library.GlobalWorkerOptions.workerPort = new Worker(`${base}/pdf.worker.min.mjs`, { type: 'module' });
      resolve(library);
    };
    script.onerror = () => {
      loading = undefined;
      reject(new Error('pdf.js could not be loaded'));
    };
    document.head.append(script);
  }));
}

/** `base` is where pdf.js lies. Scripts and forms in the document are left out. */
export async function openPdf(bytes: Uint8Array, base: string, password?: string): Promise<PDFDocumentProxy> {
  const library = await loadPdfJs(base);
  return library.getDocument({ data: bytes.slice(), cMapUrl: `${base}/cmaps/`, standardFontDataUrl: `${base}/standard_fonts/`, wasmUrl: `${base}/wasm/`, isEvalSupported: false, enableXfa: false, ...(password === undefined ? {} : { password }) }).promise;
}

const PAPER_DPI = 150;

/** Every page as a picture for paper (data URLs of PNG at 150 dots an inch). */
export async function pagesForPaper(bytes: Uint8Array, base: string): Promise<string[]> {
  const pdf = await openPdf(bytes, base);
  try {
    const pages: string[] = [];
    for (let number = 1; number <= Math.min(pdf.numPages, MAX_PAGES); number++) {
      const page = await pdf.getPage(number);
      const viewport = page.getViewport({ scale: PAPER_DPI / 72 });
      const canvas = Object.assign(document.createElement('canvas'), { width: Math.round(viewport.width), height: Math.round(viewport.height) });
      await page.render({ canvas, viewport, annotationMode: 0 }).promise;
      pages.push(canvas.toDataURL('image/png'));
    }
    return pages;
  } finally {
    void pdf.cleanup();
  }
}
