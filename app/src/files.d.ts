/** Files that lie beside the pages: an import of one is its address. */
declare module '*.wasm' {
  const address: string;
  export default address;
}
declare module '*.gz' {
  const address: string;
  export default address;
}
/** Its own description of itself is where its package does not say. Source: dist/ocr-engine.d.ts of tesseract-wasm 0.11. */
declare module 'tesseract-wasm' {
  export interface OCREngine {
    loadModel(model: ArrayBuffer): void;
    setVariable(name: string, value: string): void;
    loadImage(picture: ImageBitmap): void;
    clearImage(): void;
    getText(): string;
  }
  export function createOCREngine(options: { wasmBinary: ArrayBuffer }): Promise<OCREngine>;
}
