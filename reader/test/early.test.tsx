/**
 * The page that asks before the reading page has come: it says what the reading page would, asks once, and loses
 * nothing when that takes its place.
 */
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { toBase64Url } from '@under-lock/core/bytes';
import { sealQuestion } from '@under-lock/core/identity/answer';
import { LANGUAGES } from '@under-lock/core/language';
import { catalogues, makeEarly } from '../early-markup';
import { AskPage } from '../src/AskPage';
import { ASKS, type Early, EARLY_ID } from '../src/early/built';
import { AskingEarly } from '../src/early/early';
import { Frame } from '../src/Frame';
import { RoomPage } from '../src/RoomPage';
import { speak } from '../src/words/words';

// As the build has it: the browser's wants what jsdom lacks.
jest.mock('react-dom/server', () => jest.requireActual('react-dom/server.node'));

const GRANT = '0f8fad5b-d9cb-469f-a165-70867728950e';
const share = new Uint8Array(32).fill(7);
const inDays = (days: number): string => new Date(Date.now() + days * 24 * 60 * 60_000 + 60_000).toISOString();

type Check = { kind: string; hint: string; question?: string };
const held = (check: Check, over: object = {}) => ({
  state: 'held',
  officeName: 'Larkmoor Ferries',
  colour: '#123456',
  senderName: 'Maren <b>Oduya</b>',
  senderAddress: 'maren.oduya@larkmoor.example',
  zone: 'Europe/Lisbon',
  closesAt: inDays(9),
  carried: false,
  identified: false,
  check,
  ...over,
});
const byText: Check = { kind: 'text', hint: '417' };

type Answer = { status: number; body: unknown } | 'cut';
const requests: string[] = [];
let answers: Record<string, Answer> = {};
/** Asked, and not answered before the test says so. */
let heldBack: (() => void)[] | undefined;

beforeEach(() => {
  requests.length = 0;
  heldBack = undefined;
  document.title = '';
  document.body.innerHTML = `<div id="${EARLY_ID}"></div><div id="root"></div>`;
  window.history.replaceState(null, '', `/room/${GRANT}#${toBase64Url(share)}`);
  global.fetch = (async (target: string, { method = 'GET' } = {} as RequestInit) => {
    const asked = `${method} ${new URL(target).pathname.replace(GRANT, ':id')}`;
    requests.push(asked);
    if (method !== 'GET' && heldBack !== undefined) await new Promise<void>((go) => heldBack!.push(go));
    const answer = answers[asked]!;
    if (answer === 'cut') throw new TypeError('cut');
    const body = JSON.stringify(answer.body);
    const reply = { ok: answer.status < 300, status: answer.status, json: async () => JSON.parse(body) as unknown };
    return { ...reply, headers: new Headers(), clone: () => ({ ...reply, headers: new Headers() }) };
  }) as never;
});

const LOOK = 'GET /room/api/grants/:id';
const SEND = 'POST /room/api/grants/:id/passcode';
const ENTER = 'POST /room/api/grants/:id/session';
const sentAnswer = (): Answer => ({
  status: 200,
  body: { resendAt: new Date(Date.now() + 60_000).toISOString(), expiresAt: inDays(1) },
});

let early: Early;
beforeAll(async () => {
  ({ early } = await makeEarly());
  await speak('en');
});

const earlyRoot = (): HTMLElement => document.getElementById(EARLY_ID)!;
const settled = async (): Promise<void> => {
  // What is derived is derived beside, in its own time.
  for (let turn = 0; turn < 80; turn++) await act(() => new Promise((done) => setTimeout(done, 2)));
};

async function arrive(room: object, languages: string[] = ['en']): Promise<AskingEarly> {
  answers = { [LOOK]: { status: 200, body: room }, [SEND]: sentAnswer(), ...answers };
  const page = AskingEarly.here(earlyRoot(), early, languages)!;
  window.underLockEarly = page;
  await page.start();
  return page;
}
const press = (name: string): void => {
  const button = [...earlyRoot().querySelectorAll('[role="button"]')].find(
    (one) => one.getAttribute('aria-label') === name,
  );
  fireEvent.click(button!);
};

async function takeOver(): Promise<void> {
  render(<RoomPage />, { container: document.getElementById('root')! });
  await settled();
}

afterEach(async () => {
  await speak('en');
  answers = {};
  delete window.underLockEarly;
});

const CHECKS: [string, Check][] = [
  ['a text message', byText],
  ['a call', { kind: 'voice', hint: '417' }],
  ['a mail', { kind: 'email', hint: 'p···@islandmail.example' }],
];

test.each(LANGUAGES.flatMap((language) => CHECKS.map(([by, check]) => [by, language, check] as const)))(
  'by %s, in %s: what it says is what the reading page says, before and after the passcode was sent',
  async (_, language, check) => {
    await speak(language, catalogues);
    const told = held(check);
    const page = await arrive(told, [`${language}-XX`]);
    expect([document.documentElement.lang, earlyRoot().className]).toEqual([language, ASKS]);
    const send = early[language].ways[check.kind as 'text'].send;
    const room = { ...told, closesAt: new Date(told.closesAt) };
    const door = { askPasscode: async () => ({ resendAt: new Date(Date.now() + 60_000) }) };
    const { container } = render(
      <Frame officeName={room.officeName} colour={room.colour}>
        <AskPage
          room={room as never}
          door={door as never}
          now={new Date()}
          again={false}
          onIdentified={() => undefined}
          onNotMine={() => undefined}
          onProblem={() => undefined}
        />
      </Frame>,
    );
    expect(earlyRoot().textContent).toBe(container.textContent);
    expect(earlyRoot().textContent).toContain('Maren <b>Oduya</b>');
    expect(earlyRoot().textContent).not.toMatch(/[\uE000\uE001]/);
    expect(earlyRoot().querySelector<HTMLElement>('[role="banner"]')!.style.backgroundColor).toBe('rgb(18, 52, 86)');
    press(send);
    await waitFor(() => expect(earlyRoot().querySelector('input')).not.toBeNull());
    await act(async () => void fireEvent.click(container.querySelector(`[aria-label="${send}"]`)!));
    await waitFor(() => expect(container.querySelector('input')).not.toBeNull());
    // Each counts the seconds down for itself.
    const numbers = (text: string | null): string => text!.replace(/\b\d\d\b/g, 'N');
    expect(numbers(earlyRoot().textContent)).toBe(numbers(container.textContent));
    expect(document.activeElement?.getAttribute('aria-label')).toBe(early[language].labels.passcode);
    expect(requests).toEqual([LOOK, SEND]);
    page.end();
  },
);

test('what was typed is there when the reading page takes its place; nothing is asked twice', async () => {
  await arrive(held(byText));
  press('Send me the passcode');
  await settled();
  const field = earlyRoot().querySelector('input')!;
  field.value = '4829';
  await takeOver();
  expect(document.getElementById(EARLY_ID)).toBeNull();
  const now = screen.getByLabelText<HTMLInputElement>('Passcode');
  expect([now.value, document.activeElement === now]).toEqual(['4829', true]);
  expect(screen.getByText(/You can ask for another one in (59|60) seconds/)).toBeTruthy();
  expect(requests).toEqual([LOOK, SEND]);
});

test('a passcode that is on its way when the reading page comes is asked for once, and its failing is said there', async () => {
  heldBack = [];
  answers = {
    [SEND]: { status: 502, body: { type: 'about:blank', title: 'x', status: 502, code: 'unreachable' } },
  };
  await arrive(held(byText));
  press('Send me the passcode');
  // A second press does nothing: it is on its way.
  press('Send me the passcode');
  await settled();
  await takeOver();
  expect(screen.getByRole('button', { name: 'Send me the passcode' }).getAttribute('aria-busy')).toBe('true');
  for (const go of heldBack) go();
  await settled();
  expect(screen.getByText(/The passcode could not be sent just now/)).toBeTruthy();
  expect(requests).toEqual([LOOK, SEND]);
});

test('a press that the early page can’t do is done by the reading page', async () => {
  answers = {
    [ENTER]: {
      status: 403,
      body: { type: 'about:blank', title: 'x', status: 403, code: 'passcode-wrong', triesLeft: 3 },
    },
  };
  await arrive(held(byText));
  press('Send me the passcode');
  await settled();
  earlyRoot().querySelector('input')!.value = '482913';
  fireEvent.keyDown(earlyRoot().querySelector('input')!, { key: 'Enter' });
  await takeOver();
  expect(screen.getByText(/That is not the passcode. 3 tries left/)).toBeTruthy();
  expect(requests).toEqual([LOOK, SEND, ENTER]);
});

test('a press between the early page’s end and its going is not lost', async () => {
  const page = await arrive(held(byText));
  page.end();
  press('Send me the passcode');
  expect(requests).toEqual([LOOK]);
  await takeOver();
  await settled();
  expect(requests).toEqual([LOOK, SEND]);
});

test('another way, pressed early, is open once the reading page is there', async () => {
  await arrive(held(byText));
  press('I can’t get at that phone or mailbox');
  await takeOver();
  expect(screen.getByLabelText('What would work for you')).toBeTruthy();
});

test('another passcode asked for later is a new one', async () => {
  await arrive(held(byText));
  answers[SEND] = { status: 200, body: { resendAt: new Date(Date.now() - 1000).toISOString(), expiresAt: inDays(1) } };
  press('Send me the passcode');
  await settled();
  await takeOver();
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Send another passcode' })));
  await settled();
  expect(requests).toEqual([LOOK, SEND, SEND]);
});

test('a question is opened with the link and answered on the reading page', async () => {
  const question = toBase64Url(await sealQuestion('Which boat did we meet on?', share, GRANT));
  answers = {
    [ENTER]: {
      status: 403,
      body: { type: 'about:blank', title: 'x', status: 403, code: 'answer-wrong', triesLeft: 3 },
    },
  };
  await arrive(held({ kind: 'question', hint: '', question }));
  await settled();
  expect(earlyRoot().textContent).toContain('Which boat did we meet on?');
  const field = earlyRoot().querySelector('input')!;
  expect(document.activeElement).toBe(field);
  field.value = 'Gull';
  press('Open the message');
  await takeOver();
  expect(screen.getByText(/That is not the answer. 3 tries left/)).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>('Your answer').value).toBe('Gull');
});

test.each([
  ['a password', held({ kind: 'password', hint: '' })],
  ['what came with a file', held(byText, { carried: true })],
  ['who is known already', held(byText, { identified: true })],
  ['what has ended', { state: 'closed' }],
])('%s is left to the reading page', async (_, room) => {
  const page = await arrive(room);
  expect([earlyRoot().className, earlyRoot().textContent]).toEqual(['', '']);
  // Asked already, it is not asked again; and once is once.
  const target = `${window.location.origin}/room/api/grants/${GRANT}`;
  expect(page.answered('GET', target)).toBeDefined();
  expect(page.answered('GET', target)).toBeUndefined();
});

test.each(['', '#list', '#tooshort'])('a link that ends in “%s” is left to the reading page', (hash) => {
  window.history.replaceState(null, '', `/room/${GRANT}${hash}`);
  expect(AskingEarly.here(earlyRoot(), early, ['en'])).toBeUndefined();
});
