const { transformSync } = require('esbuild');

module.exports = {
  process(source, filename) {
    const loader = /\.tsx?$/.test(filename) ? (filename.endsWith('x') ? 'tsx' : 'ts') : 'js';
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
      sourcefile: filename,
      sourcemap: 'both',
    });
    return { code, map };
  },
};
