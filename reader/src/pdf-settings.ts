/** Where pdf.js finds what it needs beside itself, and what it leaves out of a document: scripts and forms of another kind. */
export const pdfSettings = (base: string) => ({
  cMapUrl: `${base}/cmaps/`,
  standardFontDataUrl: `${base}/standard_fonts/`,
  wasmUrl: `${base}/wasm/`,
  isEvalSupported: false,
  enableXfa: false,
});
