/** One sending of one draft: what is done in which order, the one stop, and what is said when it did not go. */
import { ApiProblem, type ProblemCode } from '@under-lock/contract/problem';
import { EarlierVersionSentError } from '@under-lock/core/outgoing/attempt';
import { type Attempt, type Draft, emptyDraft } from '@under-lock/core/outgoing/draft';
import { act, renderHook } from '@testing-library/react';
import { type DraftDesk } from '../src/write/useDraft';
import { type Planned } from '../src/write/usePlan';
import { useSending } from '../src/write/useSending';

interface Given {
  signal: AbortSignal;
  progress(step: { step: 'uploading'; done: number }): void;
  keepAttempt(attempt: Attempt): Promise<void>;
}
const mockLog: string[] = [];
const mockSend: { run: (given: Given) => Promise<{ messageId: string; leavesAt: Date }> } = {
  run: async () => ({ messageId: 'm', leavesAt: new Date(0) }),
};
jest.mock('../src/sending/send', () => ({
  EarlierVersionSentError: jest.requireActual('@under-lock/core/outgoing/attempt').EarlierVersionSentError as unknown,
  sendDraft: (given: Given) => mockSend.run(given),
  discardFiles: async () => void mockLog.push('files removed'),
}));
jest.mock('expo-router', () => ({ router: { replace: (to: string) => mockLog.push(`to ${to}`) } }));
jest.mock('../src/people/person', () => ({
  rememberPerson: async (_: unknown, person: { address: string; lock?: string }) =>
    void mockLog.push(`remembers ${person.address}${person.lock === undefined ? '' : ` by ${person.lock}`}`),
}));
jest.mock('../src/people/known-keys', () => ({
  keepKnownKeys: async (keys: unknown[]) => void mockLog.push(`knows ${keys.length} keys`),
}));
jest.mock('../src/sent/useSent', () => ({ refreshSent: async () => void mockLog.push('sent list asked again') }));

const PELL = 'pell.anders@postbox.example';
const draft: Draft = { ...emptyDraft, recipients: [{ name: 'Pell Anders', address: PELL, role: 'to' }] };
const line = { recipient: { name: 'Pell Anders', address: PELL }, chosen: { missing: [], warnings: [], lock: 'room' } };
const settled = { plan: { lines: [line], missing: [], ready: true } } as unknown as Planned;
const unsettled = { plan: { lines: [], missing: [{ code: 'subject' }], ready: false } } as unknown as Planned;

function begun(planned: Planned | 'none' = settled) {
  const desk = {
    id: 'd',
    keepNow: async () => void mockLog.push('draft kept'),
    change: (edit: (before: Draft) => Draft) =>
      void mockLog.push(`draft with ${Object.keys(edit({} as Draft)).join()}`),
    drop: async () => void mockLog.push('draft gone'),
  } as unknown as DraftDesk;
  const context = { people: [], colleagues: [], office: {}, account: {} } as never;
  return renderHook(() =>
    useSending({ desk, draft, context, planNow: () => (planned === 'none' ? undefined : planned) }),
  );
}
const problem = (code: ProblemCode, status: number): ApiProblem =>
  new ApiProblem({ type: 'about:blank', title: code, status, code });

beforeEach(() => {
  mockLog.length = 0;
  mockSend.run = async () => ({ messageId: 'm', leavesAt: new Date(0) });
});

test('the draft is kept first; when it has gone its recipients are known, files and draft go, and its page opens', async () => {
  const { result } = begun();
  await act(() => result.current.send());
  expect(mockLog).toEqual([
    'draft kept',
    `remembers ${PELL}`,
    'knows 0 keys',
    'files removed',
    'draft gone',
    'sent list asked again',
    'to /mail/m?sent=1',
  ]);
});

test('what leaves later keeps its draft, with what it waits for, so that it can be taken back', async () => {
  mockSend.run = async () => ({ messageId: 'm', leavesAt: new Date(Date.now() + 60_000) });
  const { result } = begun();
  await act(() => result.current.send());
  expect(mockLog).toContain('draft with waiting');
  expect(mockLog).not.toContain('draft gone');
  expect(mockLog).not.toContain('files removed');
});

test.each([
  ['without a plan', 'none' as const],
  ['while something is to be settled', unsettled],
])('nothing is sent %s', async (_, planned) => {
  const run = jest.fn(mockSend.run);
  mockSend.run = run;
  const { result } = begun(planned);
  await act(() => result.current.send());
  expect(run).not.toHaveBeenCalled();
  expect(mockLog).toEqual([]);
});

test('pressed twice it goes once, its steps are told, and the attempt lies with the draft before anything leaves', async () => {
  let finish!: () => void;
  const run = jest.fn(async ({ progress, keepAttempt }: Given) => {
    await keepAttempt({} as Attempt);
    progress({ step: 'uploading', done: 0.5 });
    await new Promise<void>((done) => (finish = done));
    return { messageId: 'm', leavesAt: new Date(0) };
  });
  mockSend.run = run;
  const { result } = begun();
  let first!: Promise<void>;
  await act(async () => {
    first = result.current.send();
    await new Promise((done) => setTimeout(done, 0));
  });
  expect(result.current.sending).toEqual({ step: 'uploading', done: 0.5 });
  expect(mockLog).toEqual(['draft kept', 'draft with attempt', 'draft kept']);
  await act(() => result.current.send());
  await act(async () => {
    finish();
    await first;
  });
  expect(run).toHaveBeenCalledTimes(1);
});

test('a stop ends it, is said, and leaves the draft as it is', async () => {
  mockSend.run = ({ signal }) =>
    new Promise((_, reject) => signal.addEventListener('abort', () => reject(signal.reason as Error)));
  const { result } = begun();
  let sending!: Promise<void>;
  await act(async () => {
    sending = result.current.send();
    await new Promise((done) => setTimeout(done, 0));
  });
  await act(async () => {
    result.current.stop();
    await sending;
  });
  expect(result.current.sending).toBeUndefined();
  expect(result.current.failed).toEqual({ sentence: 'Stopped. Nothing was sent; your draft is kept.' });
  expect(mockLog).toEqual(['draft kept']);
});

test.each([
  ['a line', problem('unreachable', 0), /can’t be reached.*sending again goes on where it stopped/, undefined],
  ['a date', problem('closing-out-of-range', 400), /closing date.*Not sent: your draft is kept/, undefined],
  [
    'a try before',
    new EarlierVersionSentError('earlier'),
    /An earlier version of this message had gone out/,
    'earlier',
  ],
] as const)('what went wrong is said: %s', async (_, error, sentence, messageId) => {
  mockSend.run = () => Promise.reject(error);
  const { result } = begun();
  await act(() => result.current.send());
  expect(result.current.failed?.sentence).toMatch(sentence);
  expect(result.current.failed?.messageId).toBe(messageId);
  expect(mockLog).toEqual(['draft kept']);
  // The next try begins without yesterday's sentence.
  mockSend.run = async () => ({ messageId: 'm', leavesAt: new Date(0) });
  await act(() => result.current.send());
  expect(result.current.failed).toBeUndefined();
});
