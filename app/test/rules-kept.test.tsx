/** What was kept is what is gone on from: whoever changes the same once more is not told that somebody else did. */
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { type Policy, type PolicyItem } from '@under-lock/core/rules/policy';
import { mutate } from 'swr';
import { POLICY, useKeeping, usePolicy } from '../src/rules/usePolicy';
import { WordsScreen } from '../src/rules/WordsScreen';

const ID = '7d1f1c0e-9a5b-4a53-8d0a-2b8f9d1c0001';

/** The server as the pages meet it: a change over an earlier version than the last of the same is refused. */
const mockServer = {
  version: 4,
  changedAt: new Map<string, number>(),
  items: new Map<string, PolicyItem>(),
  /** An answer that is under way when something is kept, and says what was before. */
  slow: [] as (() => void)[],
  isSlow: false,
};
jest.mock('../src/api', () => ({
  api: async ({ method }: { method: string }, { body }: { body?: { item: PolicyItem; over: number } } = {}) => {
    if (method === 'PUT') {
      const { item, over } = body!;
      if ((mockServer.changedAt.get(item.value.id) ?? 0) > over) throw new Error('conflict');
      mockServer.version += 1;
      mockServer.changedAt.set(item.value.id, mockServer.version);
      mockServer.items.set(item.value.id, item);
      return { version: mockServer.version };
    }
    const of = (kind: string) =>
      [...mockServer.items.values()].filter((one) => one.kind === kind).map(({ value }) => value);
    const answer = {
      version: mockServer.version,
      rules: of('rule'),
      words: of('words'),
      patterns: [],
      tags: [],
      examples: [],
    };
    if (mockServer.isSlow) await new Promise<void>((resolve) => mockServer.slow.push(resolve));
    return answer;
  },
}));
jest.mock('../src/office/AdministratorsOnly', () => ({
  AdministratorsOnly: ({ children }: { children: unknown }) => children,
}));
jest.mock('../src/shell/from-here', () => ({ fromHere: () => () => undefined }));
jest.mock('../src/shell/Screen', () => ({
  Screen: ({ aside, children }: { aside?: unknown; children: unknown }) => [aside, children],
}));
jest.mock('../src/shell/ListAndPage', () => ({ BackToList: () => null }));
jest.mock('../src/threads/scan/door', () => ({ scanDoor: () => ({}) }));

beforeEach(() => {
  Object.assign(mockServer, { slow: [], isSlow: false });
  mockServer.items.set(ID, { kind: 'words', value: { id: ID, name: 'Hulls', words: ['plank'] } });
});

test('a list of words is changed twice', async () => {
  render(<WordsScreen id={ID} />);
  const words = await screen.findByRole('textbox', { name: /word/i });
  for (const text of ['plank\nkeel', 'plank\nkeel\nrib']) {
    fireEvent.change(words, { target: { value: text } });
    fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
    await waitFor(() => expect(mockServer.items.get(ID)).toMatchObject({ value: { words: text.split('\n') } }));
    expect(await screen.findByText(/Kept/)).toBeTruthy();
  }
});

test('what is shown next begins with what was kept, whatever is asked for meanwhile', async () => {
  let keep: (item: PolicyItem) => Promise<void> = () => Promise.reject(new Error('Not there yet'));
  const Keeper = ({ policy }: { policy: Policy }) => {
    keep = useKeeping(policy);
    return <p>{policy.words[0]?.words.join(' ')}</p>;
  };
  const Shown = () => {
    const { data } = usePolicy();
    return data === undefined ? null : <Keeper policy={data} />;
  };
  render(<Shown />);
  await act(() => mutate(POLICY));
  await screen.findByText('plank');
  mockServer.isSlow = true;
  const item: PolicyItem = { kind: 'words', value: { id: ID, name: 'Hulls', words: ['keel'] } };
  let kept = false;
  await act(async () => {
    void keep(item).then(() => (kept = true));
    await waitFor(() => expect(mockServer.slow).toHaveLength(1));
    // The office was told of, too, and what it says now is still on its way when the first answer is there.
    void mutate(POLICY);
    await waitFor(() => expect(mockServer.slow).toHaveLength(2));
    mockServer.slow[0]!();
    await waitFor(() => expect(kept).toBe(true));
  });
  expect(screen.getByText('keel')).toBeTruthy();
  await act(async () => mockServer.slow[1]!());
});
