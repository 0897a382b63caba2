/** Readers of files for the scan that core leaves to whoever runs it: PDF by pdf.js, archives by 7-Zip, both in this thread. */
import { type Bytes } from '@under-lock/core/bytes';
import { pdfPieces, type PdfDocument } from '@under-lock/core/scan/files/pdf';
import { type FileToScan, type ReadPorts } from '@under-lock/core/scan/files/read';
import { type SevenZip, unpack } from '@under-lock/core/scan/files/unpack';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

const packages = createRequire(import.meta.url);

/**
 * pdf.js as it is published for older engines, and its worker, which runs in this thread. Each puts a `push` of its own
 * in the place of every array's, because this engine's gives another error at 2^53 entries: four times slower, for all
 * that the thread ever does. The engine's comes back.
 */
async function loadPdfJs() {
  const { push } = Array.prototype;
  const library = await import('pdfjs-dist/legacy/build/pdf.mjs');
  await import('pdfjs-dist/legacy/build/pdf.worker.mjs' as string);
  Array.prototype.push = push;
  return library;
}

let loaded: ReturnType<typeof loadPdfJs> | undefined;
/** Once: what is put back is what stood there before the first of them came. */
const pdfJs = () => (loaded ??= loadPdfJs());

async function openPdf(bytes: Bytes): Promise<PdfDocument> {
  const library = await pdfJs();
  const folder = dirname(packages.resolve('pdfjs-dist/package.json'));
  const task = library.getDocument({
    data: bytes.slice(),
    cMapUrl: join(folder, 'cmaps/'),
    standardFontDataUrl: join(folder, 'standard_fonts/'),
    wasmUrl: join(folder, 'wasm/'),
    isEvalSupported: false,
    enableXfa: false,
    disableFontFace: true,
    useSystemFonts: false,
    // Nothing is drawn, and what is odd about a file is nobody's news.
    verbosity: 0,
  });
  return task.promise;
}

async function makeSevenZip(said: (line: string) => void): Promise<SevenZip> {
  const { default: sevenZip } = await import('7z-wasm');
  return (await sevenZip({ print: said, printErr: said })) as unknown as SevenZip;
}

/** Pictures are read by nobody here, as in a browser where nobody asks for it. */
export const readers: ReadPorts = {
  pdf: ({ name, bytes }: FileToScan) => pdfPieces(name, () => openPdf(bytes)),
  unpack: (archive) => unpack(archive, makeSevenZip),
};
