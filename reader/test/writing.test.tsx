/**
 * Writing back and passing on, with doors of the test's own: nothing typed is lost, nobody can be added, refusals are
 * said where they arose.
 */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { ApiProblem, type ProblemCode } from '@under-lock/contract/problem';
import { type Handling, LOOSEST_TERMS } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import { createRef } from 'react';
import { ForwardPanel } from '../src/ForwardPanel';
import { type ReplyTargets, type WritingDoor } from '../src/replies';
import { keptDraft, type ReplyDraft } from '../src/reply-draft';
import { ReplyPanel } from '../src/ReplyPanel';

const now = new Date('2026-11-24T10:00:00Z');
const problem = (code: ProblemCode): ApiProblem =>
  new ApiProblem({ type: 'about:blank', title: code, status: 400, code });
const content: MessageContent = {
  messageId: '1@larkmoor.example',
  from: { name: 'Maren Oduya', address: 'maren@larkmoor.example' },
  to: [],
  cc: [],
  subject: 'Dates',
  date: now,
  reference: 'CR-1',
  text: 'Which week?',
  html: '',
  files: [],
};
const reader = { name: 'Pell Anders', address: 'pell@postbox.example' };
const targets: ReplyTargets = {
  sender: { name: 'Maren Oduya', address: 'maren@larkmoor.example' },
  others: [{ grantId: 'g', name: 'Saltmarsh Yard', address: 'yard@saltmarsh.example' }],
  unreachable: [{ name: 'Northquay', address: 'c@northquay.example' }],
  maxBytes: 25_000_000,
};
const sealed = { id: 'r', contentBlobId: 'b', content: new Uint8Array(1), grants: [], ownKey: new Uint8Array(0) };
const inert: WritingDoor = {
  replyTargets: async () => targets,
  listReplies: async () => [],
  openReply: async () => content,
  sealReply: async () => sealed,
  sendReply: async (_sealed, _toAll, progress) => progress(1),
  listForwards: async () => [],
  passOn: async () => undefined,
};
const press = (name: string): Promise<void> =>
  act(async () => void fireEvent.click(screen.getByRole('button', { name })));
const type = (label: string, value: string): void =>
  void fireEvent.change(screen.getByLabelText(label), { target: { value } });

async function reply(over: Partial<WritingDoor> = {}, rights = { reply: true, replyAll: true }) {
  const heard: string[] = [];
  const draft = createRef<ReplyDraft | undefined>() as React.RefObject<ReplyDraft | undefined>;
  const door = { ...inert, ...over };
  const view = render(
    <ReplyPanel
      door={door}
      answered={content}
      reader={reader}
      rights={rights}
      now={now}
      draft={draft}
      onProblem={(error) => heard.push((error as ApiProblem).code)}
    />,
  );
  await act(async () => undefined);
  return { heard, draft, view };
}

test('a reply goes to the sender alone, under “Re:” and the same reference', async () => {
  const wanted: unknown[] = [];
  await reply({
    sealReply: async ({ message, targets: to }) => {
      wanted.push([message.subject, message.reference, message.text, to.map(({ address }) => address)]);
      return sealed;
    },
    sendReply: async (_, toAll, progress) => {
      wanted.push(toAll);
      progress(1);
    },
  });
  await press('Reply to Maren Oduya');
  expect(screen.getByText('Goes to Maren Oduya.')).toBeTruthy();
  await press('Send the reply');
  expect(screen.getByText('Write something or add a file.')).toBeTruthy();
  type('Your reply', 'The second week.');
  await press('Send the reply');
  expect(wanted).toEqual([['Re: Dates', 'CR-1', 'The second week.', ['maren@larkmoor.example']], false]);
  expect(screen.getByText(/Sent. You can read it again here/)).toBeTruthy();
});

test('a reply to all names everybody it reaches and whom it can’t', async () => {
  const addressed: string[][] = [];
  await reply({
    sealReply: async ({ targets: to }) => {
      addressed.push(to.map(({ address }) => address));
      return sealed;
    },
  });
  await press('Reply to all');
  expect(screen.getByText('Goes to Maren Oduya and Saltmarsh Yard.')).toBeTruthy();
  expect(screen.getByText(/Northquay can’t be reached this way/)).toBeTruthy();
  type('Your reply', 'Agreed.');
  await press('Send the reply');
  expect(addressed).toEqual([['maren@larkmoor.example', 'yard@saltmarsh.example']]);
});

test.each([
  [{ reply: true, replyAll: false }, 1],
  [{ reply: false, replyAll: true }, 1],
  [{ reply: false, replyAll: false }, 0],
])('with %j there are as many buttons as rights', async (rights, count) => {
  await reply({}, rights);
  expect(screen.queryAllByRole('button', { name: /^Reply/ })).toHaveLength(count);
});

test.each([
  ['unreachable', /No connection. What you wrote is still here/],
  ['server-error', /could not be sent just now/],
  ['conflict', /Who can be written to has changed/],
  ['too-large', /larger than 25 MB/],
] as const)('%s keeps what was written and says so', async (code, said) => {
  const { heard, draft } = await reply({ sendReply: () => Promise.reject(problem(code)) });
  await press('Reply to Maren Oduya');
  type('Your reply', 'The second week.');
  await press('Send the reply');
  expect(screen.getByText(said)).toBeTruthy();
  expect((screen.getByLabelText('Your reply') as HTMLTextAreaElement).value).toBe('The second week.');
  expect(draft.current?.text).toBe('The second week.');
  expect(heard).toEqual([]);
});

test('sent again after a failure it is the same sealed reply, and a changed one is another', async () => {
  let sealings = 0;
  let sendings = 0;
  await reply({
    sealReply: async () => {
      sealings++;
      return sealed;
    },
    sendReply: async () => {
      if (++sendings < 3) throw problem('unreachable');
    },
  });
  await press('Reply to Maren Oduya');
  type('Your reply', 'One.');
  await press('Send the reply');
  await press('Send the reply');
  expect([sealings, sendings]).toEqual([1, 2]);
  type('Your reply', 'Two.');
  await press('Send the reply');
  expect([sealings, sendings]).toEqual([2, 3]);
});

test('an access that has ended meanwhile is said by the page around, and the draft outlives it', async () => {
  const { heard, draft } = await reply({ sendReply: () => Promise.reject(problem('not-identified')) });
  await press('Reply to Maren Oduya');
  type('Your reply', 'Kept.');
  await press('Send the reply');
  expect(heard).toEqual(['not-identified']);
  expect(draft.current).toMatchObject({ to: 'sender', text: 'Kept.' });
});

test('files too large together are refused by name of the limit before anything is sealed', async () => {
  let sealings = 0;
  await reply({
    sealReply: async () => {
      sealings++;
      return sealed;
    },
  });
  await press('Reply to Maren Oduya');
  const big = Object.defineProperty(new File(['x'], 'big.bin'), 'size', { value: 26_000_000 });
  fireEvent.change(document.querySelector('input[type=file]')!, { target: { files: [big] } });
  expect(screen.getByText(/■ Together the files are larger than 25 MB/)).toBeTruthy();
  await press('Send the reply');
  expect(sealings).toBe(0);
  await press('Remove big.bin');
  expect(screen.queryByText(/big.bin/)).toBeNull();
});

describe('passing on', () => {
  const handling = (over: Partial<Handling> = {}): Handling => ({
    ...LOOSEST_TERMS,
    check: 'voice',
    closesAt: new Date('2026-12-03T17:00:00Z'),
    ...over,
  });
  const open = async (over: Partial<WritingDoor> = {}, terms: Partial<Handling> = {}): Promise<unknown[]> => {
    const passed: unknown[] = [];
    render(
      <ForwardPanel
        door={{ ...inert, passOn: async (to, question) => void passed.push([to, question]), ...over }}
        handling={handling(terms)}
        now={now}
        onProblem={(error) => passed.push((error as ApiProblem).code)}
      />,
    );
    await act(async () => undefined);
    await press('Pass it on');
    return passed;
  };

  it('offers no weaker check than the sender’s, asks for what it needs, and tells what is wrong beside each field', async () => {
    const passed = await open();
    expect(screen.getAllByRole('radio').map((one) => one.textContent)).toEqual([
      'Passcode by text message',
      'Passcode by voice call',
    ]);
    type('Their mail address', 'no address');
    type('Their phone, with country code', '07700');
    await press('Pass it on');
    expect(screen.getByText(/That is not a mail address/)).toBeTruthy();
    expect(screen.getByText(/A plus sign, the country code and the number/)).toBeTruthy();
    expect(passed).toEqual([]);
    type('Their name', '  Saltmarsh   Yard ');
    type('Their mail address', 'yard@saltmarsh.example');
    type('Their phone, with country code', '+44 (7700) 900-262');
    await press('Pass it on');
    expect(passed).toEqual([
      [
        { address: 'yard@saltmarsh.example', name: 'Saltmarsh Yard', check: 'voice', target: '+447700900262' },
        undefined,
      ],
    ]);
  });

  it('asks a question besides where the sender does', async () => {
    const passed = await open({}, { question: true });
    type('Their mail address', 'yard@saltmarsh.example');
    type('Their phone, with country code', '+447700900262');
    await press('Pass it on');
    expect(screen.getByText(/Write the question/)).toBeTruthy();
    expect(screen.getByText(/Three letters or digits at least/)).toBeTruthy();
    type('Question for them', 'Which dock?');
    type('Answer', 'North dock');
    await press('Pass it on');
    expect(passed).toMatchObject([[{ check: 'voice' }, { text: 'Which dock?', answer: 'North dock' }]]);
  });

  it.each([
    ['reads-already', /can read it already/],
    ['own-number', /your own phone or mailbox/],
    ['below-preset', /stronger check/],
    ['unreachable', /could not be passed on just now/],
  ] as const)('%s is said, and what was typed stays', async (code, said) => {
    await open({ passOn: () => Promise.reject(problem(code)) });
    type('Their mail address', 'yard@saltmarsh.example');
    type('Their phone, with country code', '+447700900262');
    await press('Pass it on');
    expect(screen.getByText(said)).toBeTruthy();
    expect((screen.getByLabelText('Their mail address') as HTMLInputElement).value).toBe('yard@saltmarsh.example');
  });
});

describe('a reply being written', () => {
  beforeEach(() => sessionStorage.clear());

  test('outlives a reload, for its own access only; files are asked for again', () => {
    keptDraft('one').current = { to: 'all', text: 'Page two is fine.', files: [new File(['x'], 'x.txt')] };
    expect(keptDraft('one').current).toEqual({ to: 'all', text: 'Page two is fine.', files: [], lost: 1 });
    expect(keptDraft('two').current).toBeUndefined();
    keptDraft('one').current = undefined;
    expect(keptDraft('one').current).toBeUndefined();
    expect(sessionStorage).toHaveLength(0);
  });

  test('what somebody else left there is no draft', () => {
    for (const value of ['no json', '{}', '{"to":"sender"}', '{"to":"everybody","text":"x"}', 'null']) {
      sessionStorage.setItem('reply one', value);
      expect(keptDraft('one').current).toBeUndefined();
    }
  });
});
