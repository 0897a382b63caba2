/** Reads the words in a picture, by Tesseract as it is compiled for WebAssembly: seconds a page, so in a thread of its own. */
import letters from '@tesseract.js-data/eng/4.0.0_best_int/eng.traineddata.gz';
import { expose } from 'comlink';
import { createOCREngine, type OCREngine } from 'tesseract-wasm';
import program from 'tesseract-core.wasm';

let engine: Promise<OCREngine> | undefined;

async function start(): Promise<OCREngine> {
  const [wasmBinary, packed] = await Promise.all([
    fetch(program).then((response) => response.arrayBuffer()),
    fetch(letters),
  ]);
  const model = await new Response(packed.body!.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer();
  const made = await createOCREngine({ wasmBinary });
  made.loadModel(model);
  // Pictures of pages say seldom how large they are, and it would say on the console what it takes them for.
  made.setVariable('user_defined_dpi', '200');
  return made;
}

const pictures = {
  /** Its lines, one under the other. */
  async read(picture: ImageBitmap): Promise<string> {
    const reader = await (engine ??= start());
    reader.loadImage(picture);
    try {
      return reader.getText();
    } finally {
      reader.clearImage();
      picture.close();
    }
  },
};
export type Pictures = typeof pictures;

expose(pictures);
