/**
 * Whatever strangers sent is parsed in threads of their own: one task a thread at a time, each with a deadline and a
 * bound of memory, so that the worst input costs one thread for some seconds and nobody else anything. A thread that
 * overran is ended, and another takes its place.
 */
import { Worker } from 'node:worker_threads';
import { type Task, type TaskInput, type TaskOutput } from './tasks';

export type ThreadErrorCode =
  /** The input is not what it should be, or larger than anything that is. */
  | 'unreadable'
  /** It took longer than it may. The thread was ended. */
  | 'deadline'
  /** The thread ran out of memory, or ended by itself. */
  | 'ended'
  /** More is waiting than will be done in any useful time. */
  | 'busy';

export class ThreadError extends Error {
  /** `detail`: the parser's own code, for `unreadable`. */
  constructor(
    readonly code: ThreadErrorCode,
    readonly task: string,
    readonly detail = '',
  ) {
    super(`${task}: ${code}${detail === '' ? '' : ` (${detail})`}`);
    this.name = 'ThreadError';
  }
}

/** For `catch`: what the input is answered with where a thread could not read it. Any other error goes on as it is. */
export const unread =
  (problem: (error: ThreadError) => Error) =>
  (error: unknown): never => {
    throw error instanceof ThreadError ? problem(error) : error;
  };

export interface Threads {
  /** @throws ThreadError; whatever is no fault of the input as it was thrown */
  run<T extends Task>(task: T, input: TaskInput<T>): Promise<TaskOutput<T>>;
  close(): Promise<void>;
}

export interface ThreadSettings {
  file: string;
  size?: number;
  deadlineMs?: number;
  memoryMb?: number;
}

const MAX_WAITING = 500;

type Answer =
  { kind: 'done'; value: unknown } | { kind: 'unreadable'; detail: string } | { kind: 'fault'; message: string };
interface Waiting {
  task: Task;
  input: unknown;
  resolve: (value: never) => void;
  reject: (error: Error) => void;
}

function settle({ task, resolve, reject }: Waiting, answer: Answer): void {
  if (answer.kind === 'done') resolve(answer.value as never);
  else if (answer.kind === 'unreadable') reject(new ThreadError('unreadable', task, answer.detail));
  else reject(new Error(`${task}: ${answer.message}`));
}

/** Another thread, which stays in `all` as long as it lives. */
function openedIn(all: Set<Worker>, file: string, memoryMb: number): Worker {
  const worker = new Worker(file, {
    resourceLimits: { maxOldGenerationSizeMb: memoryMb, maxYoungGenerationSizeMb: 64 },
    stdin: false,
  });
  worker.unref();
  worker.setMaxListeners(0);
  // Between tasks nobody listens: a thread that ends then is simply gone.
  worker.on('error', () => all.delete(worker));
  worker.on('exit', () => all.delete(worker));
  all.add(worker);
  return worker;
}

/** One task in it, until it answers, ends, or has taken too long. `end`: whether it can be used again. */
function doIn(worker: Worker, job: Waiting, deadlineMs: number, end: (reusable: boolean) => void): void {
  const ended = (reusable: boolean): void => {
    clearTimeout(timer);
    worker.removeAllListeners('message').off('error', gone).off('exit', gone);
    worker.unref();
    end(reusable);
  };
  const gone = (): void => {
    ended(false);
    job.reject(new ThreadError('ended', job.task));
  };
  const timer = setTimeout(() => {
    ended(false);
    job.reject(new ThreadError('deadline', job.task));
  }, deadlineMs);
  worker.once('message', (answer: Answer) => {
    ended(true);
    settle(job, answer);
  });
  worker.once('error', gone);
  worker.once('exit', gone);
  worker.ref();
  worker.postMessage({ task: job.task, input: job.input });
}

export function startThreads({ file, size = 2, deadlineMs = 10_000, memoryMb = 512 }: ThreadSettings): Threads {
  const idle: Worker[] = [];
  const all = new Set<Worker>();
  const waiting: Waiting[] = [];
  let busy = 0;
  let closed = false;

  function idleThread(): Worker {
    for (let worker = idle.pop(); worker !== undefined; worker = idle.pop()) if (all.has(worker)) return worker;
    return openedIn(all, file, memoryMb);
  }

  function begin(job: Waiting): void {
    busy += 1;
    const worker = idleThread();
    doIn(worker, job, deadlineMs, (reusable) => {
      busy -= 1;
      if (reusable && !closed) idle.push(worker);
      else {
        all.delete(worker);
        void worker.terminate();
      }
      const next = waiting.shift();
      if (next !== undefined) begin(next);
    });
  }

  return {
    run: (task, input) =>
      new Promise((resolve, reject) => {
        const job: Waiting = { task, input, resolve, reject };
        if (closed) reject(new ThreadError('ended', task));
        else if (busy < size) begin(job);
        else if (waiting.length >= MAX_WAITING) reject(new ThreadError('busy', task));
        else waiting.push(job);
      }),
    async close() {
      closed = true;
      for (const job of waiting.splice(0)) job.reject(new ThreadError('ended', job.task));
      await Promise.all([...all].map((worker) => worker.terminate()));
    },
  };
}
