/** How far a file is, is told to its own line: what is drawn beside it is not drawn again at each step. */
import { act, render, renderHook, screen, waitFor } from '@testing-library/react';
import { emptyDraft, type DraftFile } from '@under-lock/core/outgoing/draft';
import { FileList } from '../src/write/letter/FilesField';
import { useFiles } from '../src/write/letter/useFiles';
import { useSeen } from '../src/write/seen/useSeen';

type Told = (far: number) => void;
const mockWork: { told: Told; finish: () => void; fail: (error: Error) => void }[] = [];
const mockBegin = (told: Told, outcome: unknown): Promise<unknown> =>
  new Promise((resolve, reject) => mockWork.push({ told, finish: () => resolve(outcome), fail: reject }));
jest.mock('../src/threads/main/door', () => ({
  callback: (told: unknown) => told,
  door: () => ({
    message: {
      makeKey: async () => 'key',
      addFile: (_file: unknown, _id: unknown, _key: unknown, told: Told) => mockBegin(told, undefined),
    },
  }),
}));
jest.mock('../src/threads/scan/door', () => ({
  callback: (told: unknown) => told,
  scanDoor: () => ({
    message: async () => [],
    file: (_file: unknown, _chosen: unknown, _lists: unknown, told: Told) =>
      mockBegin(told, { seen: [], unread: [], more: false }),
  }),
}));

beforeEach(() => void mockWork.splice(0));

test('a file on its way', async () => {
  let kept: DraftFile[] = [];
  const drawn = jest.fn();
  const { result } = renderHook(() => {
    drawn();
    return useFiles([], 1000, (edit) => (kept = edit(kept)));
  });
  await act(async () => result.current.add([new File(['twelve bytes'], 'berths.txt')]));
  render(<FileList files={[]} limit={1000} desk={result.current} onRemove={() => undefined} />);
  const bar = screen.getByRole('progressbar', { name: 'Sealing and keeping berths.txt' });
  const before = drawn.mock.calls.length;
  for (const part of [0.25, 0.5, 0.75]) {
    act(() => mockWork[0]!.told(part));
    expect(bar.getAttribute('aria-valuenow')).toBe(String(part * 100));
  }
  expect(drawn).toHaveBeenCalledTimes(before);
  await act(async () => mockWork[0]!.finish());
  expect(kept.map(({ name }) => name)).toEqual(['berths.txt']);
  expect(result.current.coming).toEqual([]);
});

test('a file that did not come says why, and begins anew', async () => {
  const { result } = renderHook(() => useFiles([], 1000, () => undefined));
  await act(async () => result.current.add([new File(['twelve bytes'], 'berths.txt')]));
  await act(async () => mockWork[0]!.fail(new Error('No room')));
  const [coming] = result.current.coming;
  expect(coming!.error).toBeDefined();
  await act(async () => void result.current.bring(coming!));
  expect(mockWork).toHaveLength(2);
});

test('a file that is looked into', async () => {
  const file: DraftFile = { blobId: 'b', name: 'pay.csv', type: 'text/csv', size: 12, key: 'key' } as never;
  const draft = { ...emptyDraft, files: [file] };
  const lists = { words: [], patterns: [] } as never;
  const drawn = jest.fn();
  const { result } = renderHook(() => {
    drawn();
    return useSeen(draft, lists);
  });
  await waitFor(() => expect(mockWork).toHaveLength(1));
  const { state } = result.current.files[0]!;
  if (state?.at !== 'looking') throw new Error('It is not looked into');
  await waitFor(() => expect(result.current.isTextSeen).toBe(true));
  const before = drawn.mock.calls.length;
  act(() => [20, 40, 41, 60].forEach((pieces) => mockWork[0]!.told(pieces)));
  expect(state.far.get()).toEqual({ pieces: 60 });
  expect(drawn).toHaveBeenCalledTimes(before);
  await act(async () => mockWork[0]!.finish());
  expect(result.current.files[0]!.state?.at).toBe('seen');
});
