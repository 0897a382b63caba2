/**
 * Remembers the processes a start has begun, so that the next start can end those a kill left behind: by number, and
 * only when they still are ours.
 */
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';

const file = (dir) => `${dir}/children.json`;
const read = (dir) => (existsSync(file(dir)) ? JSON.parse(readFileSync(file(dir), 'utf8')) : []);

export function rememberChild(dir, pid, name) {
  mkdirSync(dir, { recursive: true });
  writeFileSync(file(dir), JSON.stringify([...read(dir), { pid, name }]));
}

export const forgetChildren = (dir) => rmSync(file(dir), { force: true });

export async function endLeftovers(dir) {
  for (const { pid, name } of read(dir)) {
    const command = existsSync(`/proc/${pid}/cmdline`) ? readFileSync(`/proc/${pid}/cmdline`, 'utf8') : '';
    if (!command.includes(name)) continue;
    try {
      process.kill(pid, 'SIGTERM');
      for (let tries = 0; tries < 100 && existsSync(`/proc/${pid}`); tries++)
        await new Promise((done) => setTimeout(done, 50));
    } catch {
      // it ended by itself in between
    }
  }
  forgetChildren(dir);
}
