/**
 * The page before reading, with doors of the test's own: what is asked, what a slip costs, what is said when something
 * fails.
 */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { ApiProblem, type ProblemCode, type ProblemDetails } from '@under-lock/contract/problem';
import { AskPage } from '../src/AskPage';
import { type Asking } from '../src/useAsking';
import { type AskDoor } from '../src/visit';

const now = new Date('2026-11-24T10:00:00Z');
const problem = (code: ProblemCode, more: Partial<ProblemDetails> = {}): ApiProblem =>
  new ApiProblem({ type: 'about:blank', title: code, status: 400, code, ...more });
const room = (kind: Asking['check']['kind'], question = false): Asking => ({
  state: 'held',
  officeName: 'Larkmoor Ferries',
  colour: '#0E5A4C',
  senderName: 'Maren Oduya',
  senderAddress: 'maren.oduya@larkmoor.example',
  zone: 'Europe/Lisbon',
  closesAt: new Date('2026-12-03T17:00:00Z'),
  identified: false,
  carried: false,
  check: {
    kind,
    hint: kind === 'email' ? 'p···@islandmail.example' : '417',
    ...(question ? { question: new Uint8Array(3) } : {}),
  },
});

function open(kind: Asking['check']['kind'], over: Partial<AskDoor> = {}, question = kind === 'question') {
  const calls: unknown[] = [];
  const heard: string[] = [];
  const door: AskDoor = {
    askPasscode: async () => ({ resendAt: new Date(Date.now() + 60_000) }),
    readQuestion: async () => 'Which boat did we meet on?',
    identify: async (given) => void calls.push(given),
    askOtherWay: async (wish) => void calls.push(wish),
    sayNotForMe: async () => undefined,
    ...over,
  };
  render(
    <AskPage
      room={room(kind, question)}
      door={door}
      now={now}
      again={false}
      onIdentified={() => heard.push('identified')}
      onNotMine={() => heard.push('not mine')}
      onProblem={(error) => heard.push((error as ApiProblem).code)}
    />,
  );
  return { calls, heard };
}
const press = (name: string): Promise<void> =>
  act(async () => void fireEvent.click(screen.getByRole('button', { name })));
const type = (label: string, value: string): void =>
  void fireEvent.change(screen.getByLabelText(label), { target: { value } });

test.each([
  [
    'text',
    'A passcode, sent by text message to the phone ending in 417.',
    'Send me the passcode',
    /We sent six digits to the phone ending in 417/,
  ],
  [
    'voice',
    'A passcode, read out in a call to the phone ending in 417.',
    'Call me with the passcode',
    /We are calling the phone ending in 417/,
  ],
  [
    'email',
    'A passcode, sent by mail to your other address p···@islandmail.example.',
    'Send me the passcode',
    /We sent six digits to p···@islandmail.example/,
  ],
] as const)(
  'by %s: says what is asked, sends nothing before it is told to, then asks for the digits',
  async (kind, asked, button, sent) => {
    const { calls, heard } = open(kind);
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Maren Oduya has written to you');
    expect(screen.getByText(asked)).toBeTruthy();
    expect(screen.getByText(/Nothing has been sent yet/)).toBeTruthy();
    expect(screen.queryByLabelText('Passcode')).toBeNull();
    await press(button);
    expect(screen.getByText(sent)).toBeTruthy();
    type('Passcode', '48 29');
    await press('Open the message');
    expect(screen.getByText(/A passcode has six digits/)).toBeTruthy();
    expect(calls).toEqual([]);
    type('Passcode', ' 482 913 ');
    await press('Open the message');
    expect([calls, heard]).toEqual([[{ passcode: '482913' }], ['identified']]);
  },
);

test.each([
  ['passcode-wrong', { triesLeft: 4 }, /That is not the passcode. 4 tries left/],
  ['passcode-wrong', { triesLeft: 1 }, /That is not the passcode. 1 try left/],
  ['passcode-expired', {}, /This passcode has been used or has run out/],
] as const)('%s is said beside the field, and what was typed stays', async (code, details, said) => {
  const { heard } = open('text', { identify: () => Promise.reject(problem(code, details)) });
  await press('Send me the passcode');
  type('Passcode', '482913');
  await press('Open the message');
  const field = screen.getByLabelText('Passcode');
  expect(screen.getByText(said)).toBeTruthy();
  expect([(field as HTMLInputElement).value, field.getAttribute('aria-invalid')]).toEqual(['482913', 'true']);
  expect(document.getElementById(field.getAttribute('aria-describedby')!.split(' ').at(-1)!)!.textContent).toMatch(
    said,
  );
  expect(heard).toEqual([]);
});

test('what this page can’t say itself goes to the page around', async () => {
  for (const code of ['passcode-paused', 'passcode-stopped', 'grant-withdrawn', 'unreachable'] as const) {
    const { heard } = open('text', { askPasscode: () => Promise.reject(problem(code)) });
    await press('Send me the passcode');
    expect(heard).toEqual([code]);
    document.body.replaceChildren();
  }
});

test('a passcode that could not be sent is said here, and may be asked for again', async () => {
  let tries = 0;
  open('text', {
    askPasscode: () =>
      ++tries === 1
        ? Promise.reject(problem('unreachable', { status: 502 }))
        : Promise.resolve({ resendAt: new Date(Date.now() + 60_000) }),
  });
  await press('Send me the passcode');
  expect(screen.getByText(/could not be sent just now/)).toBeTruthy();
  await press('Send me the passcode');
  expect(screen.getByLabelText('Passcode')).toBeTruthy();
});

test('asked too soon: counts down and offers it again by itself', async () => {
  jest.useFakeTimers();
  try {
    open('text', {
      askPasscode: () =>
        Promise.reject(problem('passcode-too-soon', { until: new Date(Date.now() + 3_000).toISOString() })),
    });
    await press('Send me the passcode');
    expect(screen.getByText('You can ask for another one in 3 seconds.')).toBeTruthy();
    await act(async () => void jest.advanceTimersByTime(2_000));
    expect(screen.getByText('You can ask for another one in 1 second.')).toBeTruthy();
    await act(async () => void jest.advanceTimersByTime(2_000));
    expect(screen.getByRole('button', { name: 'Send another passcode' })).toBeTruthy();
  } finally {
    jest.useRealTimers();
  }
});

test('a question alone sends nothing and takes an answer', async () => {
  const { calls, heard } = open('question');
  await act(async () => undefined);
  expect(screen.getByText('Which boat did we meet on?')).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Send me the passcode' })).toBeNull();
  await press('Open the message');
  expect(screen.getByText(/Type your answer/)).toBeTruthy();
  type('Your answer', 'MV Teal');
  await press('Open the message');
  expect([calls, heard]).toEqual([[{ answer: 'MV Teal' }], ['identified']]);
});

test('a passcode and a question go together, and which of them was wrong is said', async () => {
  const { calls } = open(
    'text',
    {
      identify: async (given) => {
        calls.push(given);
        throw problem('answer-wrong', { triesLeft: 2 });
      },
    },
    true,
  );
  await press('Send me the passcode');
  type('Passcode', '482913');
  type('Your answer', 'MV Gull');
  await press('Open the message');
  expect(calls).toEqual([{ passcode: '482913', answer: 'MV Gull' }]);
  expect(screen.getByText(/That is not the answer. 2 tries left/)).toBeTruthy();
});

test('a question this link does not open is said, with what to do', async () => {
  open('question', { readQuestion: () => Promise.reject(new Error('not-opened')) });
  await act(async () => undefined);
  expect(screen.getByText(/Use the link of the newest notice/)).toBeTruthy();
  expect(screen.queryByLabelText('Your answer')).toBeNull();
});

test('whoever can’t get at the phone tells the sender what would work; whoever it is not for says so', async () => {
  const { calls, heard } = open('text');
  await press('I can’t get at that phone or mailbox');
  type('What would work for you', '  a call   to my landline ');
  await press('Tell the sender');
  expect(calls).toEqual(['a call to my landline']);
  expect(screen.getByText(/Maren Oduya has been told/)).toBeTruthy();
  await press('That phone or address is not mine');
  expect(heard).toEqual(['not mine']);
});
