/** A place in a list: the last row's time and id, so that new mail doesn't shift the pages. */
import { invalid } from '../problem';

export const cursorAfter = (at: Date, id: string): string => `${at.toISOString()}_${id}`;

/** @throws Problem `invalid-input` */
export function readCursor(text: string): [string, string] {
  const match = /^(\d{4}-\d\d-\d\dT[\d:.]+Z)_([\da-f-]{36})$/.exec(text);
  if (match === null) throw invalid('The list position is not one of ours.');
  return [match[1]!, match[2]!];
}
