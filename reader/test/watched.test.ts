import { ThreadStuckError, watched } from '../src/watched';

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

const never = (): Promise<never> => new Promise(() => undefined);

test('what is slow goes on for as long as its thread answers', async () => {
  let finish: (value: string) => void = () => undefined;
  let asked = 0;
  const end = jest.fn();
  const result = watched(new Promise<string>((resolve) => (finish = resolve)), {
    ask: () => Promise.resolve(asked++),
    end,
  });
  await jest.advanceTimersByTimeAsync(10 * 60_000);
  expect(asked).toBeGreaterThan(20);
  finish('drawn');
  expect(await result).toBe('drawn');
  expect(end).not.toHaveBeenCalled();
  expect(jest.getTimerCount()).toBe(0);
});

test('a thread that does not answer any more is ended, and whoever waits is told', async () => {
  const end = jest.fn();
  const result = watched(never(), { ask: never, end });
  const told = expect(result).rejects.toBeInstanceOf(ThreadStuckError);
  await jest.advanceTimersByTimeAsync(45_000);
  await told;
  expect(end).toHaveBeenCalledTimes(1);
  expect(jest.getTimerCount()).toBe(0);
});

test('what fails, fails as it is', async () => {
  await expect(watched(Promise.reject(new Error('damaged')), { ask: never, end: jest.fn() })).rejects.toThrow(
    'damaged',
  );
});
