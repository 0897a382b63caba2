/**
 * Makes the demo's papers (a PDF and a picture of made-up content) once; they are committed, so that everybody sends
 * the same.
 */
import { chromium } from '@playwright/test';
import { at } from './ground/paths.mjs';

const style = `body{font:15px/22px Georgia,serif;color:#1b2421;margin:48px}h1{font-size:24px}table{border-collapse:collapse;width:100%}td,th{border:1px solid #999;padding:6px 8px;text-align:left}`;
const page1 = `<h1>Fitness for sea service</h1><p>Harbour Clinic, for Larkmoor Ferries · 12 November 2026</p><table><tr><th>Seafarer</th><td>Pell Anders, deckhand</td></tr><tr><th>Examined by</th><td>Dr Aune (made up)</td></tr><tr><th>Result</th><td>Fit, with one restriction</td></tr></table><p>This paper is a sample. Nobody in it exists.</p>`;
const page2 = `<h1 style="break-before:page">Eyesight, page two</h1><table><tr><th></th><th>Right</th><th>Left</th></tr><tr><td>Distance, unaided</td><td>0.7</td><td>0.5</td></tr><tr><td>Distance, with glasses</td><td>1.0</td><td>1.0</td></tr><tr><td>Colour plates</td><td>passed</td><td>passed</td></tr></table><p>Restriction: to wear glasses on watch and carry a spare pair.</p>`;

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--disable-gpu'],
});
const page = await browser.newPage({ viewport: { width: 1000, height: 700 } });
await page.setContent(`<style>${style}</style>${page1}${page2}`);
await page.pdf({ path: at('demo/papers/fitness-2026.pdf'), format: 'A4' });
await page.setContent(
  `<style>body{margin:0;background:#f2efe9;font:700 60px Georgia,serif;text-align:center;color:#222}div{letter-spacing:24px;margin-top:24px}</style><div style="font-size:120px">E</div><div style="font-size:84px">F P</div><div style="font-size:60px">T O Z</div><div style="font-size:42px">L P E D</div><div style="font-size:28px">P E C F D</div><div style="font-size:18px">sample chart, made up</div>`,
);
await page.screenshot({ path: at('demo/papers/eyesight.jpg'), type: 'jpeg', quality: 80 });
await browser.close();
