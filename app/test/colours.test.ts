/** Both schemes are the same set of names, can be read, and are the ones that the pages' first style has. */
import { type ColourName, schemes } from '../../ui/src/tokens';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const names = Object.keys(schemes) as (keyof typeof schemes)[];

/** WCAG 2.2, relative luminance. */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const part = parseInt(hex.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
function contrast(a: string, b: string): number {
  const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y) as [number, number];
  return (high + 0.05) / (low + 0.05);
}

const TEXT = 4.5;
const CONTROL = 3;
const pairs: readonly (readonly [ColourName, readonly ColourName[], number])[] = [
  ['ink', ['ground', 'paper', 'quiet', 'paleSea', 'paleAmber', 'paleBrick'], TEXT],
  ['soft', ['ground', 'paper', 'quiet', 'paleSea'], TEXT],
  ['sea', ['ground', 'paper', 'paleSea'], TEXT],
  ['amber', ['ground', 'paper', 'paleAmber'], TEXT],
  ['brick', ['ground', 'paper', 'paleBrick'], TEXT],
  ['onSea', ['sea'], TEXT],
  ['edge', ['ground', 'paper'], CONTROL],
];

test.each(names)('%s: what is written can be read on everything it stands on', (name) => {
  const scheme = schemes[name];
  const faint = pairs.flatMap(([over, unders, least]) =>
    unders
      .filter((under) => contrast(scheme[over], scheme[under]) < least)
      .map((under) => `${over} on ${under}: ${contrast(scheme[over], scheme[under]).toFixed(2)}`),
  );
  expect(faint).toEqual([]);
});

const propertiesOf = (name: keyof typeof schemes): string =>
  Object.entries(schemes[name])
    .map(([property, value]) => `--${property}: ${value.toLowerCase()};`)
    .join('\n');

test.each(['app', 'reader'])('%s’s first style has them as they are here', (place) => {
  const page = readFileSync(join(__dirname, `../../${place}/public/index.html`), 'utf8');
  const style = /<style id="colours">([\s\S]*?)<\/style>/.exec(page)![1]!.replace(/^ +/gm, '');
  expect(style).toContain(propertiesOf('light'));
  expect(style).toContain(propertiesOf('dark'));
});
