/** The words of a PDF's page, and where on the page each stands. */
import { placesOf } from '@under-lock/core/search/fold';

/** As pdf.js gives it: where it begins and how it is turned (ISO 32000-2, §9.4.4), in the page's own units. */
export interface TextItem {
  str: string;
  hasEOL: boolean;
  transform: number[];
  width: number;
  height: number;
}

/** A page as it is shown: its size, and the transform from its own units to there, y downwards. */
export interface PageView {
  width: number;
  height: number;
  transform: number[];
}

/** In parts of the page, 0 to 1, from its upper left corner. */
export interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

const MAX_PAGE_TEXT = 20_000;

export interface PageText {
  text: string;
  /** Where each item begins in the text. */
  begins: number[];
  items: TextItem[];
  view: PageView;
}

/** In the order they stand in the file, by the line (ISO 32000-2, §9.10). */
export function pageText(items: readonly TextItem[], view: PageView): PageText {
  const made: PageText = { text: '', begins: [], items: [], view };
  for (const item of items) {
    if (made.text.length + item.str.length > MAX_PAGE_TEXT) break;
    made.begins.push(made.text.length);
    made.items.push(item);
    made.text += item.hasEOL ? `${item.str}\n` : item.str;
  }
  return made;
}

const at = (matrix: number[], x: number, y: number): [number, number] => [
  matrix[0]! * x + matrix[2]! * y + matrix[4]!,
  matrix[1]! * x + matrix[3]! * y + matrix[5]!,
];

/** Of the part of an item between `from` and `to`, 0 to 1 along its line: as if all its letters were as wide. */
function boxOf({ transform, width, height }: TextItem, view: PageView, from: number, to: number): Box {
  const [a, b, , , e, f] = transform as [number, number, number, number, number, number];
  const size = Math.hypot(a, b) || 1;
  const [along, up] = [
    [a / size, b / size],
    [-b / size, a / size],
  ] as const;
  const corners = [from, to].flatMap((part) =>
    // A little of a letter stands below its line.
    [-0.2, 1].map((rise) =>
      at(
        view.transform,
        e + along[0] * width * part + up[0] * height * rise,
        f + along[1] * width * part + up[1] * height * rise,
      ),
    ),
  );
  const [xs, ys] = [corners.map(([x]) => x / view.width), corners.map(([, y]) => y / view.height)];
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  return { left, top, width: Math.max(...xs) - left, height: Math.max(...ys) - top };
}

/** Where `phrase` stands on the page: of each place one box for every item it runs through. */
export function foundOn({ text, begins, items, view }: PageText, phrase: string, most: number): Box[][] {
  let first = 0;
  return placesOf(text, phrase, most).map(({ from, to }) => {
    while (first + 1 < begins.length && begins[first + 1]! <= from) first += 1;
    const boxes: Box[] = [];
    for (let index = first; index < items.length && begins[index]! < to; index++) {
      const [item, begin] = [items[index]!, begins[index]!];
      const { length } = item.str;
      const [start, end] = [Math.max(0, from - begin), Math.min(length, to - begin)];
      if (length > 0 && end > start) boxes.push(boxOf(item, view, start / length, end / length));
    }
    return boxes;
  });
}
