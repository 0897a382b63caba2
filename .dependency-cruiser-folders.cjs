/**
 * No cycle between the folders of a room, by what is loaded: imports of types alone make none. Where a room is named
 * here, it has none and shall get none; the app is not there yet.
 */
const { join } = require('node:path');
const { options } = require('./.dependency-cruiser.cjs');

const withoutCycles = ['core', 'contract', 'server', 'ui', 'reader', 'standins'];

module.exports = {
  forbidden: withoutCycles.map((room) => ({
    name: `no-folder-cycles-in-${room}`,
    severity: 'error',
    scope: 'folder',
    from: { path: `^${room}/src/` },
    to: { path: `^${room}/src/`, circular: true },
  })),
  options: {
    ...options,
    tsPreCompilationDeps: false,
    // What is imported for its type is left out, as the builds leave it out.
    tsConfig: { fileName: join(__dirname, 'scripts/ground/tsconfig.loaded.json') },
  },
};
