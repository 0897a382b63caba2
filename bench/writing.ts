/** Write while large files are added and looked into: what keeps the page from answering, and what a PDF takes. */
import { execFileSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DESK } from './desk';
import { DESKTOP, type DemoOffice, openDemoOffice } from './demo-office';
import { median } from './measured';
import { type Row } from './row';
import { documentation, wordsAsPdf } from './scan';

const TURNS = 5;

/** As the browser tells of them: what took longer than 50 ms. As text, since pages have no helpers of ours. */
const NOTE_LONG = `window.long = [];
new PerformanceObserver((list) => window.long.push(...list.getEntries().map(({ duration }) => duration))).observe({ entryTypes: ['longtask'] })`;

interface Added {
  /** Milliseconds each. */
  long: number[];
  /** Milliseconds until it is looked into, once that has begun. */
  looked: number;
}

async function added(office: DemoOffice, path: string): Promise<Added> {
  const page = await office.open(DESKTOP);
  await office.signIn(page, DESK);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill('pell.anders@postbox.example,');
  const text = page.getByRole('textbox', { name: 'Text', exact: true });
  await text.waitFor();
  await page.waitForTimeout(3_000);
  await page.evaluate(NOTE_LONG);
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Add files' }).click();
  await (await chooser).setFiles(path);
  const looking = page.getByText(/^Looking into/);
  await looking.waitFor();
  const from = performance.now();
  const done = looking.waitFor({ state: 'detached' }).then(() => performance.now() - from);
  await text.click();
  for (let word = 0; word < 10; word++) await page.keyboard.type('berth ', { delay: 20 });
  const looked = await done;
  await page.waitForTimeout(500);
  const long = await page.evaluate<number[]>('window.long');
  await page.context().close();
  return { long, looked };
}

export async function writing(): Promise<Row[]> {
  const [plain, pdf] = ['txt', 'pdf'].map((ending) => join(tmpdir(), `bench-${process.pid}.${ending}`)) as [
    string,
    string,
  ];
  writeFileSync(plain, documentation().texts.join('\n').slice(0, 20_000_000));
  writeFileSync(pdf, wordsAsPdf(5_000_000));
  const office = await openDemoOffice();
  const turns: { plain: Added; pdf: Added; alone: number }[] = [];
  for (let turn = 0; turn < TURNS; turn++) {
    const from = performance.now();
    execFileSync('pdftotext', [pdf, '-'], { maxBuffer: 100_000_000 });
    const alone = performance.now() - from;
    turns.push({ plain: await added(office, plain), pdf: await added(office, pdf), alone });
  }
  await office.stop();
  for (const path of [plain, pdf]) rmSync(path);
  const longest = (which: 'plain' | 'pdf'): string =>
    turns.map((turn) => Math.round(Math.max(0, ...turn[which].long)) || '–').join(', ');
  return [
    {
      what: `Longest task over 50 ms on the page while 20 MB are added and scanned, ${TURNS} times`,
      value: longest('plain'),
      aim: 'none',
    },
    { what: 'The same while a PDF of 5 MB is', value: longest('pdf'), aim: 'none' },
    {
      what: 'That PDF looked into in the browser ÷ pdftotext',
      value: median(turns.map((turn) => turn.pdf.looked / turn.alone)).toFixed(1),
      aim: '≤ 2',
    },
  ];
}
