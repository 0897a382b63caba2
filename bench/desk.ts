/**
 * The desk of somebody who is signed in, from its address to “Needs you”, against a page that fetches as many octets from
 * the same machine in one answer and says so: on the same slow line, with the same slow processor.
 */
import { type CDPSession, type Page } from '@playwright/test';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { createServer } from 'node:http';
import { type AddressInfo } from 'node:net';
import { median } from './measured';
import { type Row } from './row';

const TURNS = 5;
export const DESK = 'Needs you';
const BARE_SAYS = 'There are';

/** By the page itself, at the first picture in which the words stand. As text, since pages have no helpers of ours. */
export const noteWhenSaid = (words: string): string =>
  `requestAnimationFrame(function look() {
    if (document.body === null || !document.body.innerText.includes('${words}')) requestAnimationFrame(look);
    else window.shownAt = performance.now();
  })`;

/** Scripts that had come by then, kilobytes over the wire each, with those of its threads. */
export const scriptsBefore = async (page: Page): Promise<ReadonlyMap<string, number>> =>
  new Map(
    await page.evaluate<[string, number][]>(
      `performance.getEntriesByType('resource')
        .filter(({ name, initiatorType, responseEnd }) => initiatorType === 'script' && /\\.js$/.test(name) && responseEnd <= window.shownAt)
        .map(({ name, transferSize }) => [name.replace(/^.*\\/|-[\\da-f]{32}(?=\\.js$)/g, ''), transferSize / 1000])`,
    ),
  );

async function shownAfter(page: Page, url: string, words: string): Promise<number> {
  await page.goto(url);
  await page.getByText(words).first().waitFor();
  return page.evaluate<number>('window.shownAt');
}

/** Octets over the wire while it is shown. */
async function octetsOf(session: CDPSession, show: () => Promise<unknown>): Promise<number> {
  let octets = 0;
  const count = ({ encodedDataLength }: { encodedDataLength: number }): void => void (octets += encodedDataLength);
  session.on('Network.loadingFinished', count);
  await show();
  session.off('Network.loadingFinished', count);
  return octets;
}

const BARE = `<!doctype html><title>Bare</title><body><script>
fetch('/octets').then((answer) => answer.arrayBuffer()).then(({ byteLength }) => {
  document.body.textContent = 'There are ' + byteLength;
});
</script>`;

async function bareServer(octets: number): Promise<{ origin: string; close(): void }> {
  const body = randomBytes(octets);
  const server = createServer((request, response) => {
    if (request.url === '/octets') response.end(body);
    else response.setHeader('Content-Type', 'text/html').end(BARE);
  }).listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  return { origin: `http://127.0.0.1:${port}`, close: () => void server.close() };
}

/** @param page Of somebody who is signed in, on the slow line. */
export async function deskToBare(page: Page, origin: string, line: object): Promise<Row> {
  const context = page.context();
  const slowly = async (words: string): Promise<{ page: Page; session: CDPSession }> => {
    const fresh = await context.newPage();
    const session = await context.newCDPSession(fresh);
    await session.send('Network.enable');
    await session.send('Network.setCacheDisabled', { cacheDisabled: true });
    await session.send('Network.emulateNetworkConditions', line as never);
    await session.send('Emulation.setCPUThrottlingRate', { rate: 4 });
    await fresh.addInitScript(noteWhenSaid(words));
    return { page: fresh, session };
  };
  const desk = await slowly(DESK);
  const octets = await octetsOf(desk.session, () => shownAfter(desk.page, `${origin}/desk`, DESK));
  const server = await bareServer(Math.round(octets));
  const bare = await slowly(BARE_SAYS);
  const [desks, bares]: [number[], number[]] = [[], []];
  for (let turn = 0; turn < TURNS; turn++) {
    desks.push(await shownAfter(desk.page, `${origin}/desk`, DESK));
    bares.push(await shownAfter(bare.page, server.origin, BARE_SAYS));
  }
  server.close();
  return {
    what: `Desk shown (${(median(desks) / 1000).toFixed(1)} s) ÷ a bare page of its ${Math.round(octets / 1000)} kB, processor ÷ 4, 1.6 Mbit/s`,
    value: (median(desks) / median(bares)).toFixed(2),
    aim: '≤ 2',
  };
}
