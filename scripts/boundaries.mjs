/** `npm run boundaries`: the arrows between rooms, then cycles between their folders. An argument: another house. */
import { at, root } from './ground/paths.mjs';
import { run } from './ground/run.mjs';

const house = process.argv[2] ?? root;
const rooms = ['core', 'contract', 'server', 'ui', 'app', 'reader', 'door', 'standins'];
let failed = 0;
for (const config of ['.dependency-cruiser.cjs', '.dependency-cruiser-folders.cjs']) {
  const cruise = [at('node_modules/dependency-cruiser/bin/dependency-cruise.mjs'), '--config', at(config), ...rooms];
  if ((await run(process.execPath, cruise, { cwd: house })) !== 0) failed += 1;
}
process.exitCode = failed;
