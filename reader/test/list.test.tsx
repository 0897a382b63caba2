/**
 * A registered reader's pages, with doors and a server of the test's own: signing in, a new password, keeping a
 * message, and the list itself.
 */
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { ApiProblem, type ProblemCode, type ProblemDetails } from '@under-lock/contract/problem';
import { SWRConfig } from 'swr';
import { type Held, type HeldPage, type KeepDoor, type Session } from '../src/list/account';
import * as account from '../src/list/account';
import { HeldList } from '../src/list/HeldList';
import { KeepPanel } from '../src/list/KeepPanel';
import { SignIn, type SignInDoor } from '../src/list/SignIn';

jest.mock('../src/list/account', () => ({
  heldPage: jest.fn(),
  mark: jest.fn(),
  remove: jest.fn(),
  askAgain: jest.fn(),
  sealWritten: jest.fn(),
  sendWritten: jest.fn(),
}));
const server = account as jest.Mocked<typeof account>;

const problem = (code: ProblemCode, more: Partial<ProblemDetails> = {}): ApiProblem =>
  new ApiProblem({ type: 'about:blank', title: code, status: 400, code, ...more });
const session = (over: Partial<Session> = {}): Session => ({
  reader: { id: 'r', address: 'mira@saltmarsh.example', name: 'Mira' },
  language: 'en',
  unproven: false,
  hashing: { salt: new Uint8Array(16), memoryKiB: 65_536, iterations: 3, parallelism: 4 },
  wrappedSecret: new Uint8Array(61),
  sealedPrivateKey: new Uint8Array(61),
  key: { suite: 1, publicKey: new Uint8Array(32) },
  ...over,
});
const press = (name: string | RegExp): Promise<void> =>
  act(async () => void fireEvent.click(screen.getByRole('button', { name })));
const type = (label: string, value: string): void =>
  void fireEvent.change(screen.getByLabelText(label), { target: { value } });
const settle = (): Promise<void> => act(async () => void (await new Promise((done) => setTimeout(done, 20))));

describe('signing in', () => {
  const open = (over: Partial<SignInDoor> = {}) => {
    const heard: unknown[] = [];
    const door: SignInDoor = {
      signIn: async (...given) => {
        heard.push(given);
        return session();
      },
      askForReset: async (address) => {
        heard.push(address);
        return { resendAt: new Date(Date.now() + 60_000) };
      },
      reset: async (...given) => {
        heard.push(given);
        return session();
      },
      ...over,
    };
    render(<SignIn title="Sign in to read" door={door} onSignedIn={() => heard.push('in')} />);
    return heard;
  };

  it('takes an address and a password, and nothing that is no address', async () => {
    const heard = open();
    type('Your mail address', 'mira');
    await press('Sign in');
    expect(screen.getByText(/That is not a mail address/)).toBeTruthy();
    type('Your mail address', ' mira@saltmarsh.example ');
    type('Password', 'seven lanterns');
    await press('Sign in');
    expect(heard).toEqual([['mira@saltmarsh.example', 'seven lanterns'], 'in']);
  });

  it.each([
    ['wrong-password', {}, /Address or password is not right/],
    ['too-many-tries', { until: new Date(Date.now() + 60_000).toISOString() }, /Too many tries. Please wait until/],
    ['unreachable', {}, /No connection/],
  ] as const)('%s is said, and what was typed stays', async (code, more, said) => {
    open({ signIn: () => Promise.reject(problem(code, more)) });
    type('Your mail address', 'mira@saltmarsh.example');
    type('Password', 'x');
    await press('Sign in');
    expect(screen.getByText(said)).toBeTruthy();
    expect((screen.getByLabelText('Your mail address') as HTMLInputElement).value).toBe('mira@saltmarsh.example');
  });

  it('says what a forgotten password loses before anything is asked, then takes digits and a new one', async () => {
    const heard = open();
    type('Your mail address', 'mira@saltmarsh.example');
    await press('I have forgotten my password');
    expect(screen.getByText(/what was sealed to the old one stays closed/)).toBeTruthy();
    expect(heard).toEqual([]);
    await press('Send me six digits by mail');
    expect(screen.getByText(/If mira@saltmarsh.example has an account here/)).toBeTruthy();
    type('The six digits', '12');
    await press('Set the new password');
    expect(screen.getByText(/It is six digits/)).toBeTruthy();
    type('The six digits', '482 913');
    type('New password', 'mira@saltmarsh words');
    type('The same once more', 'mira@saltmarsh words');
    await press('Set the new password');
    expect(screen.getByText(/Leave your address out of it/)).toBeTruthy();
    type('New password', 'seven lanterns at low tide');
    type('The same once more', 'seven lanterns at low tide');
    await press('Set the new password');
    expect(heard).toEqual([
      'mira@saltmarsh.example',
      ['mira@saltmarsh.example', '482913', 'seven lanterns at low tide'],
      'in',
    ]);
  });
});

describe('beside a message that was opened by its link', () => {
  const open = async (over: Partial<KeepDoor> = {}) => {
    const heard: unknown[] = [];
    const door: KeepDoor = {
      currentSession: async () => undefined,
      askForDigits: async () => ({ resendAt: new Date(Date.now() + 60_000), registered: false }),
      register: async (...given) => {
        heard.push(given);
        return session();
      },
      keep: async (_, subject) => void heard.push(subject),
      toList: () => heard.push('list'),
      ...over,
    };
    render(
      <KeepPanel door={door} reader={{ name: 'Mira', address: 'Mira@saltmarsh.example' }} subject="Hull survey" />,
    );
    await settle();
    return heard;
  };

  it('keeps it at once for who is signed in under this address', async () => {
    const heard = await open({ currentSession: async () => session() });
    expect(screen.getByText('This message is in your list.')).toBeTruthy();
    await press('To my list');
    expect(heard).toEqual(['Hull survey', 'list']);
  });

  it('has nothing to say to somebody else’s sign-in, or when it can’t be known', async () => {
    const heard = await open({
      currentSession: async () => session({ reader: { id: 'x', address: 'other@postbox.example', name: '' } }),
    });
    await open({ currentSession: () => Promise.reject(problem('unreachable')) });
    expect([document.body.textContent, heard]).toEqual(['', []]);
  });

  it('offers a password, proves the mailbox, and keeps the message with it', async () => {
    const heard = await open();
    await press('Set a password');
    type('The six digits', '482913');
    type('New password', 'seven lanterns at low tide');
    type('The same once more', 'seven lanterns at low tide');
    await press('Set the password');
    expect(heard).toEqual([['482913', 'seven lanterns at low tide'], 'Hull survey']);
    expect(screen.getByText(/Your list is ready/)).toBeTruthy();
  });

  it('asks who has one already to sign in', async () => {
    await open({ askForDigits: async () => ({ resendAt: new Date(), registered: true }) });
    await press('Set a password');
    expect(screen.getByRole('heading', { name: 'Sign in to your list' })).toBeTruthy();
    expect((screen.getByLabelText('Your mail address') as HTMLInputElement).value).toBe('Mira@saltmarsh.example');
  });

  it.each([
    ['wrong-code', { triesLeft: 4 }, /Those are not the digits. 4 tries left/],
    ['passcode-expired', {}, /have been used or have run out/],
    ['passcode-stopped', {}, /too many wrong tries/],
    ['conflict', {}, /There is a password for this address already/],
  ] as const)('%s is said', async (code, more, said) => {
    await open({ register: () => Promise.reject(problem(code, more)) });
    await press('Set a password');
    type('The six digits', '482913');
    type('New password', 'seven lanterns at low tide');
    type('The same once more', 'seven lanterns at low tide');
    await press('Set the password');
    expect(screen.getByText(said)).toBeTruthy();
  });
});

describe('the list', () => {
  const item = (over: Partial<Held> = {}): Held => ({
    grantId: crypto.randomUUID(),
    senderId: 's1',
    from: { name: 'Maren Oduya', address: 'maren@larkmoor.example' },
    arrivedAt: new Date('2026-11-20T10:00:00Z'),
    closesAt: new Date(Date.now() + 9 * 86_400_000),
    state: 'held',
    size: 1000,
    unread: false,
    reference: '',
    sealed: { share: new Uint8Array(1), summary: new Uint8Array(1) },
    subject: 'Hull survey',
    ...over,
  });
  const page = (items: Held[], over: Partial<HeldPage> = {}): HeldPage => ({
    items,
    unread: items.filter(({ unread }) => unread).length,
    senders: [
      { id: 's1', name: 'Maren Oduya', address: 'maren@larkmoor.example' },
      { id: 's2', name: 'Tobias Quill', address: 'tobias@larkmoor.example' },
    ],
    maxBytes: 25_000_000,
    ...over,
  });
  const open = async (
    pages: HeldPage[] | ((query: { sort: string; sender?: string; after?: string }) => HeldPage),
    over: Partial<Session> = {},
  ) => {
    const asked: unknown[] = [];
    const out: string[] = [];
    server.heldPage.mockImplementation(async (_, query) => {
      asked.push(query);
      return typeof pages === 'function' ? pages(query) : pages[query.after === undefined ? 0 : Number(query.after)]!;
    });
    render(
      <SWRConfig value={{ provider: () => new Map(), dedupingInterval: 0 }}>
        <HeldList session={session(over)} onSignedOut={() => out.push('out')} />
      </SWRConfig>,
    );
    await settle();
    return { asked, out };
  };
  const line = (subject: string) => within(screen.getByText(subject).closest('[data-testid]') as HTMLElement);

  it('says of each what it is, until when, and what can be done with it', async () => {
    await open([
      page([
        item({ subject: 'New one', unread: true }),
        item({ subject: 'Old one', state: 'withdrawn', endedAt: new Date('2026-11-21T10:00:00Z'), sealed: undefined }),
        item({ subject: undefined, reference: 'CR-7', sealed: undefined }),
        item({ subject: 'Lost one', sealed: undefined, lost: {} }),
        item({ subject: 'Asked one', sealed: undefined, lost: { askedAt: new Date('2026-11-22T10:00:00Z') } }),
      ]),
    ]);
    expect(screen.getByText('▲ 1 unread')).toBeTruthy();
    expect(line('New one').getByText('▲ Unread')).toBeTruthy();
    expect(line('New one').getByText(/^Closes .*, in 9 days$/)).toBeTruthy();
    expect(line('Old one').getByText('○ Withdrawn')).toBeTruthy();
    expect(line('Old one').queryByRole('button', { name: /^Open/ })).toBeNull();
    expect(line('CR-7').getByText(/Opens with the link in its notice/)).toBeTruthy();
    expect(line('Lost one').getByText('■ Old password')).toBeTruthy();
    expect(line('Lost one').getByRole('button', { name: 'Ask Maren Oduya to give it again' })).toBeTruthy();
    expect(line('Asked one').getByText(/Asked for on/)).toBeTruthy();
    expect(line('Asked one').queryByRole('button', { name: /^Ask/ })).toBeNull();
  });

  it('is empty in words, and says what a list without proof is worth', async () => {
    await open([page([], { senders: [] })], { unproven: true });
    expect(screen.getByText('Nothing is held for you now')).toBeTruthy();
    expect(screen.getByText(/first open one that somebody of the office has sent you/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Write a message' })).toBeNull();
  });

  it('searches through all pages by subject, sender and reference, accents and case aside', async () => {
    const { asked } = await open([
      page(
        Array.from({ length: 6 }, (_, index) => item({ subject: `Paper ${index}` })),
        { next: '1' },
      ),
      page([item({ subject: 'Größe der Taue', from: { name: 'Tobias Quill', address: 't@larkmoor.example' } })], {
        next: '2',
      }),
      page([item({ subject: 'Last', reference: 'AR-9' })]),
    ]);
    expect(screen.queryByText('Größe der Taue')).toBeNull();
    type('Search subject, sender, reference', 'GROSSE');
    await settle();
    await settle();
    expect(screen.getByText('Nothing fits')).toBeTruthy();
    type('Search subject, sender, reference', 'große');
    await settle();
    type('Search subject, sender, reference', 'GRÖ');
    await settle();
    expect(screen.getByText('Größe der Taue')).toBeTruthy();
    expect(screen.getByText('8 messages searched.')).toBeTruthy();
    type('Search subject, sender, reference', 'ar-9');
    await settle();
    expect(screen.getByText('Last')).toBeTruthy();
    expect(asked.map((query) => (query as { after?: string }).after)).toEqual(
      expect.arrayContaining([undefined, '1', '2']),
    );
  });

  it('is ordered and narrowed by the server', async () => {
    const { asked } = await open((query) =>
      page(
        query.sender === 's2'
          ? [item({ subject: 'From Tobias' })]
          : Array.from({ length: 6 }, (_, index) => item({ subject: `Paper ${index}` })),
      ),
    );
    await press('Order and sender');
    await act(async () => void fireEvent.click(screen.getByRole('radio', { name: 'Closing soonest' })));
    await act(async () => void fireEvent.click(screen.getByRole('radio', { name: 'Tobias Quill' })));
    await settle();
    expect(asked.at(-1)).toMatchObject({ sort: 'closing', sender: 's2' });
    expect(screen.getByText('From Tobias')).toBeTruthy();
  });

  it('marks, removes and asks again, says so, and says when it could not', async () => {
    await open([
      page([
        item({ grantId: 'a', subject: 'Kept' }),
        item({ grantId: 'b', subject: 'Lost 1', sealed: undefined, lost: {} }),
        item({ grantId: 'c', subject: 'Lost 2', sealed: undefined, lost: {} }),
      ]),
    ]);
    await press('More: Kept');
    await press('Mark unread: Kept');
    expect(server.mark).toHaveBeenLastCalledWith('a', true);
    server.askAgain.mockResolvedValue({ asked: 2 });
    await press('Ask for all 2 again');
    expect(server.askAgain).toHaveBeenLastCalledWith(['b', 'c']);
    expect(screen.getByText('The senders of 2 messages have been asked.')).toBeTruthy();
    server.remove.mockRejectedValueOnce(problem('unreachable'));
    await press('Remove from my list: Kept');
    expect(screen.getByText(/No connection/)).toBeTruthy();
    server.remove.mockResolvedValueOnce({});
    await press('Remove from my list: Kept');
    expect(screen.getByText('Removed from your list. Its sender can give it to you again.')).toBeTruthy();
  });

  it('goes to the sign-in when that is over', async () => {
    const { out } = await open(() => {
      throw problem('not-signed-in');
    });
    expect(out).toContain('out');
  });
});
