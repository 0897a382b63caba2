/** International account numbers (ISO 13616), by ibantools: however they are parted, in either case. */
import { getCountrySpecifications, validateIBAN, ValidationErrorsIBAN } from 'ibantools';
import { type Finding, findingAt } from '../finding';

const LENGTHS = new Map(
  Object.entries(getCountrySpecifications()).map(([country, { chars }]) => [country, chars ?? 0] as const),
);
const LONGEST = 34;
/** Where one could begin. */
const BEGINNING = /(?<![\p{L}\p{N}])[A-Za-z]{2}[ \u00a0.-]?\d{2}/gu;
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

export function findIbans(text: string): Finding[] {
  const found: Finding[] = [];
  for (const { index: from, 0: beginning } of text.matchAll(BEGINNING)) {
    const length = LENGTHS.get(beginning.slice(0, 2).toUpperCase()) ?? 0;
    const taken = length === 0 ? undefined : takenFrom(text, from, length);
    if (taken === undefined || !isAccount(taken.compact)) continue;
    found.push(findingAt(text, { from, to: taken.to }, { kind: 'account', of: 'iban', confidence: 'sure' }));
  }
  return found;
}
