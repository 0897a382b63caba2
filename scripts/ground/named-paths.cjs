/** Paths that a rule names, as one pattern; a rule must not outlive what it names. */
const { existsSync } = require('node:fs');
const { join } = require('node:path');

const escaped = (path) => path.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/**
 * @param root Where the house stands.
 * @param paths Files with their ending, or folders for all that is in them.
 * @throws Error naming those that are not there
 */
function pathsNamed(root, paths) {
  const gone = paths.filter((path) => !existsSync(join(root, path)));
  if (gone.length > 0) throw new Error(`A rule of dependencies names what is not there any more: ${gone.join(', ')}`);
  return `^(${paths.map((path) => (/\.\w+$/.test(path) ? `${escaped(path)}$` : `${escaped(path)}/`)).join('|')})`;
}

module.exports = { pathsNamed };
