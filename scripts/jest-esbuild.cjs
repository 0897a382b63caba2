const { transformSync } = require('esbuild');

/**
 * What a module gives away is read through two getters at each use, and arithmetic spread over modules (noble's, our
 * ASN.1) becomes several times as slow. Once the module has run they are plain values, unless one may change later.
 */
const SETTLED = `
{
  const given = module.exports;
  module.exports = Object.defineProperty({}, '__esModule', { value: true });
  for (const name of Object.keys(given)) module.exports[name] = given[name];
}`;
/** How a namespace is made of what `require` gives: a module's is what it gives. */
const NAMESPACE = /^(var __toESM = \(mod, isNodeMode, target\) => )/m;
const MAY_CHANGE = /^export (let|var)\b/m;
const OTHERS = /node_modules\/(?!@noble\/)/;

module.exports = {
  process(source, filename) {
    const loader = /\.tsx?$/.test(filename) ? (filename.endsWith('x') ? 'tsx' : 'ts') : 'js';
    const settled = /^export /m.test(source) && !MAY_CHANGE.test(source) && !OTHERS.test(filename);
    const { code, map } = transformSync(source, {
      loader,
      format: 'cjs',
      target: 'node20',
      supported: { 'dynamic-import': false },
      // Packages find their own files by it.
      define: { 'import.meta.url': 'importMetaUrl' },
      banner: source.includes('import.meta.url')
        ? 'const importMetaUrl = require("node:url").pathToFileURL(__filename).href;'
        : '',
      footer: settled ? SETTLED : '',
      sourcefile: filename,
      sourcemap: 'both',
    });
    return { code: code.replace(NAMESPACE, `$1mod && mod.__esModule ? mod : `), map };
  },
};
