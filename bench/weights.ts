/**
 * What a first visit loads at 390x844 with the processor slowed fourfold and a line of 1.6 Mbit/s whose answers take 150
 * ms: script over the wire, compressed, as the real server sends it.
 */
import { type Page } from '@playwright/test';
import { openDemoOffice, PHONE } from './demo-office';
import { DESK, deskToBare, noteWhenSaid, scriptsBefore } from './desk';
import { median } from './measured';
import { type Row } from './row';
import { rows } from '../server/src/data/database';

interface Loaded {
  /** Kilobytes over the wire by script, without its hash. */
  scripts: Map<string, number>;
  /** Scripts that came more than once. */
  twice: string[];
  seconds: number;
}

const LINE = { offline: false, downloadThroughput: 1_600_000 / 8, uploadThroughput: 750_000 / 8, latency: 150 };

const nameOf = (url: string): string =>
  new URL(url).pathname
    .split('/')
    .at(-1)!
    .replace(/-[\da-f]{32}(?=\.js$)/, '');

async function loaded(page: Page, visit: () => Promise<void>): Promise<Loaded> {
  const session = await page.context().newCDPSession(page);
  await session.send('Network.enable');
  await session.send('Network.setCacheDisabled', { cacheDisabled: true });
  await session.send('Network.emulateNetworkConditions', LINE);
  await session.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  const asked = new Map<string, string>();
  const seen = new Set<string>();
  const found: Loaded = { scripts: new Map(), twice: [], seconds: 0 };
  session.on('Network.responseReceived', ({ requestId, type, response }) => {
    if (type === 'Script') asked.set(requestId, response.url);
  });
  session.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    const url = asked.get(requestId);
    if (url === undefined) return;
    const name = nameOf(url);
    if (seen.has(url)) found.twice.push(name);
    seen.add(url);
    found.scripts.set(name, (found.scripts.get(name) ?? 0) + encodedDataLength / 1000);
  });
  const from = Date.now();
  await visit();
  found.seconds = (Date.now() - from) / 1000;
  return found;
}

/** As text: what compiles this file names functions by a helper that pages do not have. */
const noteWhen = (label: string): string =>
  `requestAnimationFrame(function look() {
    if (document.querySelector('[aria-label="${label}"]') === null) requestAnimationFrame(look);
    else window.asksAt = performance.now();
  })`;

/** As the build names what the vault's thread loads. */
const isOfThread = (name: string): boolean => name.startsWith('main-');

const TURNS = 5;
const sum = (scripts: ReadonlyMap<string, number>, counts: (name: string) => boolean): number =>
  Math.round([...scripts].filter(([name]) => counts(name)).reduce((all, [, size]) => all + size, 0));
const heaviest = (scripts: ReadonlyMap<string, number>): string =>
  [...scripts]
    .sort(([, a], [, b]) => b - a)
    .slice(0, 5)
    .map(([name, size]) => `${name} ${Math.round(size)}`)
    .join(', ');

export async function weights(): Promise<Row[]> {
  const demo = await openDemoOffice();
  const { origin } = demo;
  const open = (): Promise<Page> => demo.open(PHONE);
  const { GrantRow } = await import('../server/src/data/models');
  const ASKS = 'Send me the passcode';
  const grant = await GrantRow.findOne({ where: { state: 'held', checkKind: 'text' } });
  const turns = [];
  for (let turn = 0; turn < TURNS; turn++) {
    const reader = await open();
    // Noted by the page itself, at the first picture in which the button stands.
    await reader.addInitScript(noteWhen(ASKS));
    const room = await loaded(reader, async () => {
      await reader.goto(`${origin}/room/${grant!.id}#${'A'.repeat(43)}`);
      await reader.getByRole('button', { name: ASKS }).waitFor();
    });
    // What comes behind it is not waited for.
    const scripts = new Map([...room.scripts].filter(([name]) => name.startsWith('early')));
    const asksAt = await reader.evaluate<number>('window.asksAt');
    await reader.locator('#early').waitFor({ state: 'detached' });
    turns.push({ scripts, asksAt, twice: room.twice });
    await reader.context().close();
  }
  const [room] = turns as [(typeof turns)[0]];
  const [slot] = await rows<{ token: string }>(demo.context.db, 'SELECT token FROM slots LIMIT 1', []);
  const slots = [];
  for (let turn = 0; turn < TURNS; turn++) {
    const sender = await open();
    await sender.addInitScript(noteWhen('Your mail address'));
    const { scripts } = await loaded(sender, async () => {
      await sender.goto(`${origin}/slot/${slot!.token}`);
      await sender.getByLabel('Your mail address').waitFor();
    });
    slots.push({ scripts, typedAt: await sender.evaluate<number>('window.asksAt') });
    await sender.context().close();
  }
  const worker = await open();
  await worker.addInitScript(noteWhenSaid(DESK));
  const office = await loaded(worker, async () => {
    await demo.signIn(worker, DESK);
  });
  const toDesk = await scriptsBefore(worker);
  const shown = await deskToBare(worker, origin, LINE);
  await demo.stop();
  const all = (): boolean => true;
  return [
    {
      what: 'Reading room, script before the passcode is asked, kB compressed',
      value: String(sum(room.scripts, all)),
      aim: '≤ 60',
    },
    {
      what: 'Reading room, seconds until it asks (processor ÷ 4, 1.6 Mbit/s)',
      value: (median(turns.map(({ asksAt }) => asksAt)) / 1000).toFixed(2),
      aim: '≤ 1.2',
    },
    {
      what: 'Mail slot, script before anything is chosen, kB compressed',
      value: String(sum(slots[0]!.scripts, all)),
      aim: '≤ 60',
    },
    {
      what: 'Mail slot, seconds until it can be typed into (processor ÷ 4, 1.6 Mbit/s)',
      value: (median(slots.map(({ typedAt }) => typedAt)) / 1000).toFixed(2),
      aim: '≤ 1.5',
    },
    {
      what: 'Office app, script to the desk, kB compressed',
      value: String(sum(toDesk, (name) => !isOfThread(name))),
      aim: '≤ 380',
    },
    { what: 'With that of the vault’s thread', value: String(sum(toDesk, all)), aim: 'known' },
    { what: 'The heaviest, kB compressed', value: heaviest(toDesk), aim: 'known' },
    {
      what: 'Scripts that came more than once',
      value: [...room.twice, ...office.twice].join(', ') || 'none',
      aim: 'none',
    },
    shown,
  ];
}
