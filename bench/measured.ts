/** How measurements count. */
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
