/** Dates of birth: a date that words beside it call one. */
import { type Finding, findingAt } from './finding';
import { type Near } from './near';
import { WORDS } from './numbers/vocabulary';

const MONTHS =
  'jan|feb|mar|mrz|maer|apr|avr|abr|may|mai|mei|maj|jun|jui|giu|jul|lug|lip|aug|aou|ago|sie|sep|set|wrz|oct|okt|out|ott|paz|nov|lis|dec|dez|dic|gru|gen|ene|sty|lut|kwi|cze|fev|fevr';
/**
 * Day, month, year in any order that is written: with figures, or with a month's name. Found from its first figure, as
 * figures are rarer than the letters that months begin with.
 */
const DATE = new RegExp(
  String.raw`(?<!\d)(?:(?<y1>(?:18|19|20)\d{2})[-./](?<m1>\d{1,2})[-./](?<d1>\d{1,2})|(?<a>\d{1,2})[-./ ]{1,2}(?<b>\d{1,2})[-./ ]{1,2}(?<y2>(?:18|19|20)?\d{2})|(?<d2>\d{1,2})(?:st|nd|rd|th|\.)?(?: de| of)? (?:${MONTHS})[a-z]{0,8}\.?(?: de)?,? (?<y3>(?:18|19|20)\d{2})|(?<d3>\d{1,2})(?<=(?<!\d)(?<month>(?:${MONTHS})[a-z]{0,8}\.? )\d{1,2})(?:st|nd|rd|th)?,? (?<y4>(?:18|19|20)\d{2}))(?!\d)`,
  'g',
);
const NEAREST = 32; // characters

function isDay(groups: Record<string, string | undefined>, thisYear: number): boolean {
  const year = Number(groups['y1'] ?? groups['y3'] ?? groups['y4'] ?? groups['y2']);
  const [one, other] =
    groups['a'] === undefined
      ? [groups['d1'] ?? groups['d2'] ?? groups['d3'], groups['m1'] ?? '1']
      : [groups['a'], groups['b']];
  const [day, month] = [Number(one), Number(other)];
  const inMonth = (d: number, m: number): boolean => d >= 1 && d <= 31 && m >= 1 && m <= 12;
  const plausible = year < 100 || (year >= 1890 && year <= thisYear);
  return plausible && (inMonth(day, month) || inMonth(month, day));
}

/** @param thisYear Nobody is born later. */
export function findBirths(text: string, near: Near, thisYear: number): Finding[] {
  // Most texts say of nobody when they were born.
  if (!near.says(WORDS.birth)) return [];
  const found: Finding[] = [];
  for (const { index, 0: whole, groups = {} } of near.plain.matchAll(DATE)) {
    const span = { from: index - (groups['month'] ?? '').length, to: index + whole.length };
    if (!isDay(groups, thisYear)) continue;
    const said = near.at(span)(WORDS.birth);
    if (said > NEAREST) continue;
    found.push(findingAt(text, span, { kind: 'birth', of: 'birth', confidence: said <= 12 ? 'sure' : 'likely' }));
  }
  return found;
}
