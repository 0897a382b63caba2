/**
 * No cycle between the folders of a room, by what is loaded: imports of types alone make none. What lies in a room's own
 * `src` belongs to no folder.
 */
const { join } = require('node:path');
const { options } = require('./.dependency-cruiser.cjs');

const rooms = ['core', 'contract', 'server', 'ui', 'app', 'reader', 'door', 'standins'];

module.exports = {
  forbidden: rooms.map((room) => ({
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
