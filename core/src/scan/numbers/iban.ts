/** International account numbers (ISO 13616), by ibantools: however they are parted, in either case. */
import { getCountrySpecifications, validateIBAN, ValidationErrorsIBAN } from 'ibantools';
import { type Finding, findingAt } from '../finding';
import { figureFrom, isDigit, isLetter } from './runs';

const LENGTHS = new Map(
  Object.entries(getCountrySpecifications()).map(([country, { chars }]) => [country, chars ?? 0] as const),
);
const LONGEST = 34;
/** Its country, before the two figures of its check. */
const COUNTRY = /(?<![\p{L}\p{N}])[A-Za-z]{2}(?=[ \u00a0.-]?$)/u;
/** With what may part it from them, and what must not stand before it, which may be two units of UTF-16. */
const MOST_BEFORE = 5;
/** A space of either kind, a hyphen, a full stop. */
const isLoose = (code: number): boolean => code === 32 || code === 45 || code === 46 || code === 0xa0;
const SIGN = /[\dA-Za-z]/;
const PARTING = /[ \u00a0\u2007\u2009\u202f.\-\u2010\u2011\u2013\r\n]/;

/** What stands from here on, without what parts it, as long as its country's numbers are. */
function takenFrom(text: string, from: number, length: number): { compact: string; to: number } | undefined {
  let compact = '';
  let parted = 0;
  for (let at = from; at < text.length && at < from + 2 * LONGEST; at += 1) {
    const sign = text[at]!;
    if (SIGN.test(sign)) {
      compact += sign;
      parted = 0;
      if (compact.length === length)
        return /[\p{L}\p{N}]/u.test(text[at + 1] ?? '') ? undefined : { compact: compact.toUpperCase(), to: at + 1 };
    } else if (!PARTING.test(sign) || ++parted > 3) return undefined;
  }
  return undefined;
}

/** Its own check digits say enough; whether a bank has given it out, those of its country would say. */
const isAccount = (compact: string): boolean =>
  validateIBAN(compact, { allowQRIBAN: true }).errorCodes.every(
    (code) => code === ValidationErrorsIBAN.WrongAccountBankBranchChecksum,
  );

/** Where one could begin, found by its figures: they are rarer than letters. */
function* beginningsIn(text: string): Generator<{ from: number; country: string }> {
  for (let at = figureFrom(text, 0), end = at; at < text.length; at = figureFrom(text, end)) {
    end = at + 1;
    while (isDigit(text.charCodeAt(end))) end += 1;
    const last = isLoose(text.charCodeAt(at - 1)) ? at - 2 : at - 1;
    if (end - at > 1 && isLetter(text.charCodeAt(last))) {
      const begin = Math.max(0, at - MOST_BEFORE);
      const match = COUNTRY.exec(text.slice(begin, at));
      if (match !== null) yield { from: begin + match.index, country: match[0].toUpperCase() };
    }
  }
}

export function findIbans(text: string): Finding[] {
  const found: Finding[] = [];
  for (const { from, country } of beginningsIn(text)) {
    const length = LENGTHS.get(country) ?? 0;
    const taken = length === 0 ? undefined : takenFrom(text, from, length);
    if (taken === undefined || !isAccount(taken.compact)) continue;
    found.push(findingAt(text, { from, to: taken.to }, { kind: 'account', of: 'iban', confidence: 'sure' }));
  }
  return found;
}
