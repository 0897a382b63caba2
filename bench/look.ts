/**
 * The first look at a 10 MB PDF in the reading room with the processor slowed fourfold, against fetching and opening
 * the message that holds it.
 */
import { chromium } from '@playwright/test';
import { noticeLink } from '../core/src/locks/room/grant';
import { randomBytes } from '../core/src/bytes';
import { demoMessage, openHouse, send } from '../server/test/house';
import { median } from './measured';
import { type Row } from './row';

const PAGES = 40;
const [WIDTH, HEIGHT] = [300, 280];
const TURNS = 3;
/** Pages that are one picture each, as scanners make them; noise, so that nothing shrinks. */
function scanned(): Uint8Array<ArrayBuffer> {
  const parts: Buffer[] = [Buffer.from('%PDF-1.7\n')];
  const offsets: number[] = [];
  let length = parts[0]!.length;
  const add = (number: number, head: string, stream?: Uint8Array): void => {
    offsets[number] = length;
    const text = Buffer.concat([
      Buffer.from(`${number} 0 obj\n${head}\n`),
      ...(stream === undefined ? [] : [Buffer.from('stream\n'), stream, Buffer.from('\nendstream\n')]),
      Buffer.from('endobj\n'),
    ]);
    parts.push(text);
    length += text.length;
  };
  const pageOf = (index: number): number => 3 + index * 3;
  add(1, '<< /Type /Catalog /Pages 2 0 R >>');
  add(
    2,
    `<< /Type /Pages /Count ${PAGES} /Kids [${Array.from({ length: PAGES }, (_, index) => `${pageOf(index)} 0 R`).join(' ')}] >>`,
  );
  for (let index = 0; index < PAGES; index++) {
    const page = pageOf(index);
    const picture = new Uint8Array(WIDTH * HEIGHT * 3);
    for (let at = 0; at < picture.length; at += 60_000)
      picture.set(randomBytes(Math.min(60_000, picture.length - at)), at);
    const draw = Buffer.from('q 500 0 0 700 47 71 cm /P Do Q');
    add(
      page,
      `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents ${page + 1} 0 R /Resources << /XObject << /P ${page + 2} 0 R >> >> >>`,
    );
    add(page + 1, `<< /Length ${draw.length} >>`, draw);
    add(
      page + 2,
      `<< /Type /XObject /Subtype /Image /Width ${WIDTH} /Height ${HEIGHT} /ColorSpace /DeviceRGB /BitsPerComponent 8 /Length ${picture.length} >>`,
      picture,
    );
  }
  const count = 3 + PAGES * 3;
  parts.push(
    Buffer.from(
      `xref\n0 ${count}\n0000000000 65535 f \n${Array.from({ length: count - 1 }, (_, index) => `${String(offsets[index + 1]).padStart(10, '0')} 00000 n \n`).join('')}trailer << /Size ${count} /Root 1 0 R >>\nstartxref\n${length}\n%%EOF\n`,
    ),
  );
  return new Uint8Array(Buffer.concat(parts));
}

export async function firstLook(): Promise<Row[]> {
  const house = await openHouse();
  const maren = await house.worker('maren.oduya');
  const bytes = scanned();
  const sent = await send(maren, demoMessage({ files: [{ name: 'scan.pdf', type: 'application/pdf', bytes }] }));
  const [{ id, readerShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium-headless-shell',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const times: { opening: number[]; whole: number[] } = { opening: [], whole: [] };
  for (let turn = 0; turn < TURNS; turn++) {
    house.clock.real = false;
    house.clock.now = new Date(Date.now() + turn * 120_000);
    const page = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
    const session = await page.context().newCDPSession(page);
    await session.send('Emulation.setCPUThrottlingRate', { rate: 4 });
    await page.goto(noticeLink(house.origin, id, readerShare));
    await page.getByRole('button', { name: 'Send me the passcode' }).click();
    await page.getByLabel('Passcode', { exact: true }).fill(/^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0]);
    const from = performance.now();
    await page.getByRole('button', { name: 'Open the message' }).click();
    const look = page.getByRole('button', { name: 'Look scan.pdf' });
    await look.waitFor();
    times.opening.push(performance.now() - from);
    await look.click();
    await page.waitForFunction(() => {
      const canvas = document.querySelector<HTMLCanvasElement>('dialog canvas');
      return (
        canvas !== null &&
        canvas.width > 0 &&
        canvas.getContext('2d')!.getImageData(canvas.width >> 1, canvas.height >> 1, 1, 1).data[3] !== 0
      );
    });
    times.whole.push(performance.now() - from);
    await page.context().close();
  }
  await browser.close();
  await house.stop();
  return [
    {
      what: `First page of a ${(bytes.length / 1e6).toFixed(0)} MB PDF (processor ÷ 4) ÷ fetching and opening the message`,
      value: (median(times.whole) / median(times.opening)).toFixed(2),
      aim: '≤ 1.5',
    },
    { what: 'Fetching and opening it, seconds', value: (median(times.opening) / 1000).toFixed(1), aim: 'known' },
  ];
}
