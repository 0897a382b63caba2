import { spawn, spawnSync } from 'node:child_process';
import { constants, setPriority } from 'node:os';
import { root } from './paths.mjs';

/** Runs a command with its output on ours; resolves with its exit code. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], ...options });
    child.once('error', reject);
    child.once('exit', (code) => resolve(code ?? 1));
  });
}

/** The same with its output kept, for what runs beside something else; `idle`: only with time that nobody else wants. */
export function runAside(command, args, { idle = false, ...options } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    if (idle && child.pid !== undefined) setPriority(child.pid, constants.priority.PRIORITY_LOW);
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (output += chunk));
    child.once('error', reject);
    child.once('exit', (code) => resolve({ code: code ?? 1, output }));
  });
}

export async function mustRun(command, args, options) {
  const code = await run(command, args, options);
  if (code !== 0) throw new Error(`${command} ${args.slice(0, 3).join(' ')} ended with ${code}`);
}

/** Output of a quick command, or undefined when it fails. */
export function capture(command, args, options = {}) {
  const result = spawnSync(command, args, { encoding: 'utf8', ...options });
  return result.status === 0 ? result.stdout : undefined;
}
