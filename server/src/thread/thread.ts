/** A thread that parses: one task in, one answer out. Errors with a code are the input's fault, all others are ours. */
import { parentPort } from 'node:worker_threads';
import { type Task, tasks } from './tasks';

const codeOf = (error: unknown): string | undefined => {
  const { code, name } = error as { code?: unknown; name?: unknown };
  return typeof code === 'string' && typeof name === 'string' && !code.startsWith('ERR_')
    ? code
    : error instanceof RangeError
      ? 'too-large'
      : undefined;
};

parentPort!.on('message', ({ task, input }: { task: Task; input: never }) => {
  (async () => (tasks[task] as (input: never) => unknown)(input))().then(
    (value) => parentPort!.postMessage({ kind: 'done', value }),
    (error: unknown) => {
      const detail = codeOf(error);
      parentPort!.postMessage(
        detail === undefined
          ? { kind: 'fault', message: error instanceof Error ? (error.stack ?? error.message) : String(error) }
          : { kind: 'unreadable', detail },
      );
    },
  );
});
