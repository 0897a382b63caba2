/** Where on a PDF's page words stand: upright, turned, over several items of text. */
import { foundOn, pageText, type TextItem } from '../src/files/page-text';

// As pdf.js shows a page of 600 by 800 points: y turned downwards.
const view = { width: 600, height: 800, transform: [1, 0, 0, -1, 0, 800] };
const item = (str: string, x: number, y: number, more: Partial<TextItem> = {}): TextItem => ({
  str,
  hasEOL: false,
  transform: [10, 0, 0, 10, x, y],
  width: str.length * 6,
  height: 10,
  ...more,
});
const rounded = (boxes: { left: number; top: number; width: number; height: number }[]): number[][] =>
  boxes.map(({ left, top, width, height }) => [left * 600, top * 800, width * 600, height * 800].map(Math.round));

test('a word within an item: the part of its line that it takes', () => {
  const page = pageText([item('The hull of MV Teal', 60, 700)], view);
  // From the fifth letter, four letters long; the baseline is at 800 - 700.
  expect(foundOn(page, 'HULL', 10).map(rounded)).toEqual([[[84, 90, 24, 12]]]);
});

test('a phrase that runs over the end of a line has a box on each', () => {
  const page = pageText([item('signed by', 60, 700, { hasEOL: true }), item('the master', 60, 680)], view);
  expect(foundOn(page, 'by the', 10).map(rounded)).toEqual([
    [
      [102, 90, 12, 12],
      [60, 110, 18, 12],
    ],
  ]);
});

test('on a page that is shown turned, the box is turned, too', () => {
  const turned = { width: 800, height: 600, transform: [0, 1, 1, 0, 0, 0] };
  const [[box]] = foundOn(pageText([item('hull', 60, 700)], turned), 'hull', 10) as [
    [{ left: number; top: number; width: number; height: number }],
  ];
  expect([box.left * 800, box.top * 600, box.width * 800, box.height * 600].map(Math.round)).toEqual([698, 60, 12, 24]);
});

test('each place once, in order, and no more than asked for', () => {
  const page = pageText([item('rope rope', 0, 0), item('', 0, 0), item('rope', 100, 0)], view);
  expect(foundOn(page, 'rope', 10)).toHaveLength(3);
  expect(foundOn(page, 'rope', 2)).toHaveLength(2);
  expect(foundOn(page, 'sail', 2)).toEqual([]);
});

test('a page with more words than anybody reads is cut, not waited for', () => {
  const page = pageText(
    Array.from({ length: 5000 }, () => item('word ', 0, 0)),
    view,
  );
  expect(page.text.length).toBeLessThanOrEqual(20_000);
});
