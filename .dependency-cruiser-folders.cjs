/**
 * No cycle between the folders of a room, by what is loaded: imports of types alone make none. Where a room is named
 * here, it has none and shall get none; the app and the server are not there yet.
 */
const { options } = require('./.dependency-cruiser.cjs');

const withoutCycles = ['core', 'contract', 'ui', 'standins'];

module.exports = {
  forbidden: withoutCycles.map((room) => ({
    name: `no-folder-cycles-in-${room}`,
    severity: 'error',
    scope: 'folder',
    from: { path: `^${room}/src/` },
    to: { path: `^${room}/src/`, circular: true },
  })),
  options: { ...options, tsPreCompilationDeps: false },
};
