/** What the office's pages say, and the components they say it with. */
import { fireEvent, render, screen } from '@testing-library/react';
import { type Grant } from '@under-lock/contract/outgoing';
import { ApiProblem } from '@under-lock/contract/problem';
import { Button, Choice, Field, StateMark } from '@under-lock/ui';
import { ALL_RIGHTS, LOOSEST_TERMS, NO_RIGHTS, type Rights } from '@under-lock/core/handling/handling';
import { handlingSentence, tightenedWords } from '../src/handling/words';
import { endWords, grantMark, noticeWords, openedWords } from '../src/handling/grant-words';
import { problemWords } from '../src/problem-words';
import { passwordProblem } from '../src/session/NewPassword';

const now = new Date('2026-11-24T10:00:00Z');
const grant: Grant = {
  id: 'g',
  address: 'pell@postbox.example',
  name: 'Pell Anders',
  role: 'to',
  state: 'held',
  closesAt: new Date('2026-12-03T17:00:00Z'),
  check: { kind: 'text', hint: '··· 417', question: false },
  notice: { state: 'accepted', at: now },
  opened: { count: 0, here: 0 },
  wrongTries: 0,
  stopped: false,
  carried: false,
  language: 'en',
};

test.each([
  [{}, 'Not opened', 'wants'],
  [{ opened: { count: 2, here: 2, first: now, last: now } }, 'Opened', 'done'],
  [{ notice: { state: 'bounced' as const } }, 'Bounced', 'stopped'],
  [{ notice: { state: 'junk' as const } }, 'In junk', 'wants'],
  [{ pausedUntil: now }, 'Passcode stopped', 'stopped'],
  [{ state: 'withdrawn' as const, endedAt: now }, 'Withdrawn', 'over'],
  [{ state: 'closed' as const, endedAt: now, opened: { count: 1, here: 1, first: now, last: now } }, 'Closed', 'over'],
])('an access with %j is %s', (over, word, tone) => expect(grantMark({ ...grant, ...over })).toEqual({ word, tone }));

test('an access in a sentence', () => {
  expect(openedWords(grant, now)).toBe('never opened');
  expect(openedWords({ ...grant, opened: { count: 3, here: 3, first: now, last: now } }, now)).toMatch(
    /^opened 3 times, first Tue 24 Nov/,
  );
  // What waits to leave is on its way to nobody.
  expect([
    grantMark({ ...grant, notice: { state: 'waiting' } }, true).word,
    noticeWords({ ...grant, notice: { state: 'waiting' } }, now, true),
  ]).toEqual(['Not left yet', 'Told when it leaves']);
  expect(noticeWords({ ...grant, notice: { state: 'refused', answer: '550 no' } }, now)).toBe(
    'Notice refused. Their mail host says: “550 no”',
  );
  expect(endWords({ ...grant, state: 'withdrawn', endedAt: now }, now)).toMatch(/^withdrawn Tue 24 Nov/);
});

test('a handling in a sentence', () => {
  const sentence = (rights: Partial<Rights>, over = {}): string =>
    handlingSentence(
      grant.closesAt,
      { ...LOOSEST_TERMS, copies: false, clear: false, rights: { ...NO_RIGHTS, ...rights }, ...over },
      now,
      'Europe/Lisbon',
    );
  expect(sentence({ reply: true })).toBe(
    'Readable until Thu 3 Dec, 17:00. They may read and reply; not reply to all, forward, print, copy text or save the files.',
  );
  expect(sentence({})).toBe('Readable until Thu 3 Dec, 17:00. They may only look.');
  expect(sentence(ALL_RIGHTS)).toBe(
    'Readable until Thu 3 Dec, 17:00. They may read, reply, reply to all, forward, print, copy text and save the files.',
  );
  expect(sentence({}, { copies: true })).toBe(
    'Readable until Thu 3 Dec, 17:00. They may only look. Whoever has a certificate, an OpenPGP key or an agreed password may get a copy of their own, which can’t be closed or withdrawn.',
  );
  expect(sentence(ALL_RIGHTS, { clear: true })).toMatch(/^Nothing in it is secret: .*Anybody on its way can read it/);
  expect(sentence({}, { watermark: true, audience: 'staff' })).toBe(
    'Readable until Thu 3 Dec, 17:00. They may only look. Their name and the time lie over it. Staff only.',
  );
});

test('what a preset made stricter is said, with the preset’s name', () => {
  const terms = {
    ...LOOSEST_TERMS,
    clear: false,
    check: 'text' as const,
    rights: { ...ALL_RIGHTS, print: false, save: false },
  };
  expect(
    tightenedWords(
      ['closing', 'check', 'print', 'save'],
      terms,
      grant.closesAt,
      'because the preset “Health papers” says so',
      now,
      'Europe/Lisbon',
    ),
  ).toEqual([
    'Closes Thu 3 Dec, 17:00, because the preset “Health papers” says so.',
    'Passcode by text message, because the preset “Health papers” says so.',
    'They may not print or save the files, because the preset “Health papers” says so.',
  ]);
  expect(tightenedWords([], terms, grant.closesAt, 'x', now, 'Europe/Lisbon')).toEqual([]);
});

test('problems are sentences, and what is no problem of the server’s says that the draft is kept', () => {
  const problem = (code: 'storage-full' | 'unreachable') =>
    new ApiProblem({ type: 'about:blank', title: '', status: 500, code });
  expect(problemWords(problem('storage-full'))).toMatch(/no room left. Your draft is kept/);
  expect(problemWords(problem('unreachable'))).toMatch(/Nothing is lost/);
  expect(problemWords(new Error('x'))).toMatch(/draft is kept/);
});

test.each([
  ['short', 'short', /at least 12/],
  ['maren.oduya loves boats', 'maren.oduya loves boats', /address/],
  ['aaaaaaaaaaaaaa', 'aaaaaaaaaaaaaa', /repeats/],
  ['tide table on the pier', 'tide table on the pie', /not the same/],
  ['tide table on the pier', 'tide table on the pier', undefined],
])('the password %s is judged', (first, second, expected) => {
  const problem = passwordProblem({ first, second }, 'maren.oduya@larkmoor.example');
  if (expected === undefined) expect(problem).toBeUndefined();
  else expect(problem).toMatch(expected);
});

test('a button that can’t be pressed does nothing and says so', () => {
  const press = jest.fn();
  const { rerender } = render(<Button label="Send" onPress={press} disabled />);
  fireEvent.click(screen.getByRole('button', { name: 'Send' }));
  expect(press).not.toHaveBeenCalled();
  expect(screen.getByRole('button', { name: 'Send' }).getAttribute('aria-disabled')).toBe('true');
  rerender(<Button label="Send" onPress={press} />);
  fireEvent.click(screen.getByRole('button', { name: 'Send' }));
  expect(press).toHaveBeenCalledTimes(1);
});

test('a field ties its error to itself', () => {
  render(<Field label="Passcode" value="" onChangeText={() => undefined} error="Six digits." />);
  const input = screen.getByLabelText('Passcode');
  expect(input.getAttribute('aria-invalid')).toBe('true');
  expect(document.getElementById(input.getAttribute('aria-describedby')!)!.textContent).toBe('■ Six digits.');
});

test('one of several is a radio group, and a state has a form before its word', () => {
  const choose = jest.fn();
  render(
    <Choice
      label="Closes"
      value="a"
      onChange={choose}
      options={[
        { value: 'a', label: 'Today' },
        { value: 'b', label: 'In two weeks', detail: 'closes Tue' },
        { value: 'c', label: 'Past', disabled: true },
      ]}
    />,
  );
  expect(screen.getByRole('radio', { name: 'Today' }).getAttribute('aria-checked')).toBe('true');
  fireEvent.click(screen.getByRole('radio', { name: 'In two weeks, closes Tue' }));
  fireEvent.click(screen.getByRole('radio', { name: 'Past' }));
  expect(choose.mock.calls).toEqual([['b']]);
  render(<StateMark tone="stopped" word="Bounced" />);
  expect(screen.getByText('■ Bounced')).toBeTruthy();
});
