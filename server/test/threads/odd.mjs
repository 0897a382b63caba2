/** A thread that does what it is told: for the test of the pool. */
import { parentPort } from 'node:worker_threads';

const kept = [];
parentPort.on('message', ({ input }) => {
  switch (input.act) {
    case 'never-end':
      for (;;) kept.length = 0;
    case 'fill-memory':
      for (;;) kept.push(new Array(100_000).fill(0).map((_, at) => ({ at })));
    case 'leave':
      process.exit(3);
    case 'refuse':
      return parentPort.postMessage({ kind: 'unreadable', detail: 'malformed' });
    case 'fail':
      return parentPort.postMessage({ kind: 'fault', message: 'our own mistake' });
    default:
      return parentPort.postMessage({ kind: 'done', value: input.act });
  }
});
