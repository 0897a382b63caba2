const { transformSync } = require('esbuild');

module.exports = {
  process(source, filename) {
    const loader = /\.tsx?$/.test(filename) ? (filename.endsWith('x') ? 'tsx' : 'ts') : 'js';
    const { code, map } = transformSync(source, {
      loader,
      format: 'cjs',
      target: 'node20',
      supported: { 'dynamic-import': false },
      sourcefile: filename,
      sourcemap: 'both',
    });
    return { code, map };
  },
};
