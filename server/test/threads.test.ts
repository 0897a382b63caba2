/** Threads that parse: what overruns, overflows or breaks costs its own thread, and all others go on. */
import { join } from 'node:path';
import { startThreads, type Threads } from '../src/thread/pool';

const file = join(__dirname, 'threads/odd.mjs');
let threads: Threads;
afterEach(() => threads.close());

const run = (act: string): Promise<unknown> => threads.run('mailHead', { act } as never);

test('an input that would be parsed for ever ends at its deadline, and those behind it are done', async () => {
  threads = startThreads({ file, size: 1, deadlineMs: 300 });
  const stuck = run('never-end');
  const behind = ['one', 'two', 'three'].map(run);
  await expect(stuck).rejects.toMatchObject({ name: 'ThreadError', code: 'deadline' });
  expect(await Promise.all(behind)).toEqual(['one', 'two', 'three']);
});

test('an input that would take all memory takes a thread’s, and no more', async () => {
  threads = startThreads({ file, size: 1, memoryMb: 40, deadlineMs: 60_000 });
  await expect(run('fill-memory')).rejects.toMatchObject({ code: 'ended' });
  expect(await run('after it')).toBe('after it');
});

test('a thread that ends by itself is replaced; its refusals and its faults are told apart', async () => {
  threads = startThreads({ file, size: 2 });
  await expect(run('leave')).rejects.toMatchObject({ code: 'ended' });
  await expect(run('refuse')).rejects.toMatchObject({ code: 'unreadable', detail: 'malformed' });
  await expect(run('fail')).rejects.toThrow('our own mistake');
  expect(await Promise.all(['a', 'b', 'c', 'd'].map(run))).toEqual(['a', 'b', 'c', 'd']);
});

test('more than can wait is refused, and what waited when the house closes is told so', async () => {
  threads = startThreads({ file, size: 1, deadlineMs: 60_000 });
  const stuck = run('never-end');
  const queued = Array.from({ length: 520 }, () =>
    run('x').then(
      () => 'done',
      (error: { code: string }) => error.code,
    ),
  );
  stuck.catch(() => undefined);
  await new Promise((done) => setTimeout(done, 50));
  await threads.close();
  const ends = await Promise.all(queued);
  expect(ends.filter((one) => one === 'busy')).toHaveLength(20);
  expect(ends.filter((one) => one === 'ended')).toHaveLength(500);
});
