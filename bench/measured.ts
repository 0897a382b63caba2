/** How measurements count. */
import { readFile } from 'node:fs/promises';

export const median = (list: readonly number[]): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

/** So many connections at once. */
export const LANES = 8;

/**
 * Milliseconds of this process's processor a request, client and server together: what others do on the machine is not
 * counted.
 */
export async function processorOf(task: () => Promise<unknown>, requests: number): Promise<number> {
  let left = requests;
  const from = process.cpuUsage();
  await Promise.all(
    Array.from({ length: LANES }, async () => {
      while (left-- > 0) await task();
    }),
  );
  const { user, system } = process.cpuUsage(from);
  return (user + system) / 1000 / requests;
}

/** Bytes of a process: resident now, and the most it ever was. Linux keeps them in kB. */
export async function memoryOf(pid: number): Promise<{ now: number; peak: number }> {
  const status = await readFile(`/proc/${pid}/status`, 'utf8');
  const bytes = (name: string): number => Number(new RegExp(`^${name}:\\s+(\\d+) kB`, 'm').exec(status)![1]) * 1024;
  return { now: bytes('VmRSS'), peak: bytes('VmHWM') };
}
