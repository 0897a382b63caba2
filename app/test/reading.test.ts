import { expose } from 'comlink';
import type * as Reading from '../src/threads/keys/reading';
import { TookTooLongError } from '../src/threads/keys/took-too-long';

type Listener = (event: { data: unknown }) => void;

/** A thread in this one: the page's end of a channel whose other end answers by `rooms`, until it is ended. */
class FakeWorker {
  static made: FakeWorker[] = [];
  ended = false;
  private readonly page = new Set<Listener>();
  private readonly told = new Set<Listener>();
  private readonly thread = new Set<Listener>();

  constructor() {
    FakeWorker.made.push(this);
    const rooms = {
      opening: {
        open: (name: string) =>
          name === 'endless'
            ? new Promise(() => undefined)
            : Promise.resolve(`${name} by thread ${FakeWorker.made.indexOf(this)}`),
      },
    };
    expose(rooms, {
      postMessage: (data: unknown) => this.page.forEach((listener) => listener({ data })),
      addEventListener: (_: string, listener: unknown) => void this.thread.add(listener as Listener),
      removeEventListener: (_: string, listener: unknown) => void this.thread.delete(listener as Listener),
    } as never);
  }
  postMessage(data: unknown): void {
    if (!this.ended) this.thread.forEach((listener) => listener({ data, origin: '' } as never));
  }
  addEventListener(type: string, listener: Listener): void {
    (type === 'message' ? this.page : this.told).add(listener);
  }
  removeEventListener(_: string, listener: Listener): void {
    this.page.delete(listener);
  }
  terminate(): void {
    this.ended = true;
  }
  /** As a browser says that a script can't be had. */
  lose(): void {
    this.told.forEach((listener) => listener({ data: undefined }));
  }
}

function fresh(): typeof Reading {
  FakeWorker.made = [];
  (globalThis as { Worker?: unknown }).Worker = FakeWorker;
  document.body.innerHTML = '<script type="application/json" id="threads">{"keys":"/threads/keys-1.js"}</script>';
  jest.resetModules();
  return jest.requireActual('../src/threads/keys/reading');
}

afterEach(() => jest.useRealTimers());

const open = (name: string) => (doors: { opening: { open: unknown } }) =>
  (doors.opening.open as (given: string) => Promise<string>)(name);

test('one thread reads one file after another', async () => {
  const { reading } = fresh();
  expect(await reading(10, open('first'))).toBe('first by thread 0');
  expect(await reading(10, open('second'))).toBe('second by thread 0');
  expect(FakeWorker.made[0]!.ended).toBe(false);
});

test('a file that never ends costs its thread, and the next one is read by a fresh one', async () => {
  const { reading } = fresh();
  await reading(10, open('warm'));
  jest.useFakeTimers();
  const endless = reading(1_000_000, open('endless'));
  const outcome = expect(endless).rejects.toMatchObject({ name: TookTooLongError.name });
  jest.advanceTimersByTime(61_000);
  expect(FakeWorker.made[0]!.ended).toBe(false);
  jest.advanceTimersByTime(2_000);
  expect(FakeWorker.made[0]!.ended).toBe(true);
  await outcome;
  jest.useRealTimers();
  expect(await reading(10, open('next'))).toBe('next by thread 1');
});

test('what was gathered is forgotten by a fresh thread, and a reading under way is not cut off', async () => {
  const { reading, forgetJudgements } = fresh();
  let answer: (value: string) => void = () => undefined;
  const slow = reading(10, () => new Promise<string>((resolve) => (answer = resolve)));
  await forgetJudgements('certificates').catch(() => undefined);
  // The one between is the thread that works with keys.
  expect(await reading(10, open('after'))).toBe('after by thread 2');
  expect(FakeWorker.made[0]!.ended).toBe(false);
  answer('slow');
  expect(await slow).toBe('slow');
  expect(FakeWorker.made[0]!.ended).toBe(true);
});

test('whoever waits for a thread whose script can’t be had is told, and the next file begins anew', async () => {
  const { reading } = fresh();
  const waiting = reading(10, open('endless'));
  FakeWorker.made[0]!.lose();
  await expect(waiting).rejects.toThrow('The page could not load what reads it');
  expect(await reading(10, open('next'))).toBe('next by thread 1');
});
