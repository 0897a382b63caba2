/**
 * Kinds of numbers: how each is written, what checks it, which words stand beside it. Check digits by stdnum (each
 * scheme's own rules); what it lacks stands here with its source.
 */
import { stdnum } from 'stdnum';
import { type Confidence, type Kind } from '../finding';
import { type Vocabulary } from './vocabulary';

export interface NumberKind {
  kind: Kind;
  of: string;
  /** Of the compact form, in signs. */
  lengths: readonly number[];
  /** Of the compact form. */
  shape: RegExp;
  /** Besides the unbroken one, the groups it is written in. */
  groups: readonly string[];
  /** Its own names, and words that many schemes share. */
  own?: RegExp;
  words: readonly Vocabulary[];
  isValid: (compact: string) => boolean;
  /** What it is when no word stands by: in one of its groupings, and unbroken. */
  alone?: { grouped?: Confidence; unbroken?: Confidence };
}

interface Checked {
  validate: (value: string) => { isValid: boolean };
}
function scheme(country: string, name: string): Checked {
  const found = stdnum[country]?.[name];
  if (found === undefined) throw new Error(`The library of schemes has no ${country} ${name}`);
  return found;
}
/** The library says no with an error, and where it was made costs more than the check. */
const by =
  ({ validate }: Checked) =>
  (compact: string): boolean => {
    const { stackTraceLimit } = Error;
    Error.stackTraceLimit = 0;
    try {
      return validate(compact).isValid;
    } finally {
      Error.stackTraceLimit = stackTraceLimit;
    }
  };

/** Luhn (ISO/IEC 7812-1, annex B). */
function passesLuhn(digits: string): boolean {
  let sum = 0;
  for (let index = 0; index < digits.length; index += 1) {
    const digit = digits.charCodeAt(digits.length - 1 - index) - 48;
    const doubled = index % 2 === 1 ? digit * 2 : digit;
    sum += doubled > 9 ? doubled - 9 : doubled;
  }
  return sum % 10 === 0;
}

/** Issuer ranges with the lengths each is issued in (ISO/IEC 7812, as the networks publish them). */
const ISSUERS: readonly [range: RegExp, lengths: readonly number[]][] = [
  [/^4/, [13, 16, 19]],
  [/^(?:5[1-5]|222[1-9]|22[3-9]|2[3-6]|27[01]|2720)/, [16]],
  [/^3[47]/, [15]],
  [/^(?:30[0-5]|3[689])/, [14]],
  [/^(?:6011|64[4-9]|65)/, [16, 19]],
  [/^(?:62|35(?:2[89]|[3-8]))/, [16, 17, 18, 19]],
];
const isCard = (digits: string): boolean =>
  ISSUERS.some(([range, lengths]) => lengths.includes(digits.length) && range.test(digits)) &&
  !/^(\d)\1+$/.test(digits) &&
  passesLuhn(digits);

/** Modulus 11 over nine weighted digits (NHS Data Dictionary, "NHS NUMBER"). */
function isNhs(digits: string): boolean {
  const sum = [...digits.slice(0, 9)].reduce((total, digit, index) => total + Number(digit) * (10 - index), 0);
  const check = 11 - (sum % 11);
  return check !== 10 && (check === 11 ? 0 : check) === Number(digits[9]) && !/^(\d)\1+$/.test(digits);
}

/** A letter as its place in two digits, then weights 1 and 2 by turns (§ 290 SGB V, GKV-Spitzenverband). */
function isKvnr(compact: string): boolean {
  const place = String(compact.charCodeAt(0) - 64).padStart(2, '0');
  const digits = place + compact.slice(1, 9);
  const sum = [...digits].reduce((total, digit, index) => {
    const product = Number(digit) * (index % 2 === 0 ? 1 : 2);
    return total + (product > 9 ? product - 9 : product);
  }, 0);
  return sum % 10 === Number(compact[9]);
}

/** Weights 3, 7, 1 by turns (ABA, Routing Number Administrative Board), within the districts that are given out. */
const isRouting = (digits: string): boolean =>
  /^(?:0[1-9]|1[0-2]|2[1-9]|3[0-2]|6[1-9]|7[0-2]|80)/.test(digits) &&
  [...digits].reduce((sum, digit, index) => sum + Number(digit) * [3, 7, 1][index % 3]!, 0) % 10 === 0;

/** Two check digits, weights 1, 2, 4, 8, 5, 10, 9, 7, 3, 6 (Spain's Consejo Superior Bancario). */
function isCcc(digits: string): boolean {
  const weights = [1, 2, 4, 8, 5, 10, 9, 7, 3, 6];
  const digitOf = (ten: string): number => {
    const rest = 11 - ([...ten].reduce((sum, digit, index) => sum + Number(digit) * weights[index]!, 0) % 11);
    return rest === 11 ? 0 : rest === 10 ? 1 : rest;
  };
  return digitOf(`00${digits.slice(0, 8)}`) === Number(digits[8]) && digitOf(digits.slice(10)) === Number(digits[9]);
}

const mod97 = (digits: string): number => [...digits].reduce((rest, digit) => (rest * 10 + Number(digit)) % 97, 0);

const range = (from: number, to: number): number[] => Array.from({ length: to - from + 1 }, (_, index) => from + index);

const person = (
  of: string,
  own: RegExp,
  lengths: readonly number[],
  shape: RegExp,
  groups: readonly string[],
  check: Checked,
  alone?: NumberKind['alone'],
  words: readonly Vocabulary[] = ['person', 'tax'],
): NumberKind => ({
  kind: 'national',
  of,
  own,
  lengths,
  shape,
  groups,
  words,
  isValid: by(check),
  ...(alone === undefined ? {} : { alone }),
});

/** The library wants the sign between date and number, which the compact form has lost where it was a hyphen. */
const HETU: Checked = {
  validate: (compact) =>
    scheme('FI', 'hetu').validate(compact.length === 10 ? `${compact.slice(0, 6)}-${compact.slice(6)}` : compact),
};
const PERSONNUMMER: Checked = {
  validate: (compact) => scheme('SE', 'personnummer').validate(`${compact.slice(0, -4)}-${compact.slice(-4)}`),
};

/** In order of precedence where one place could be several. */
export const NUMBER_KINDS: readonly NumberKind[] = [
  {
    kind: 'card',
    of: 'card',
    lengths: range(13, 19),
    shape: /^\d{13,19}$/,
    groups: ['4-4-4-4', '4-6-5', '4-6-4', '4-4-4-4-3', '4-4-4-2', '4-4-4-3', '4-4-4-1'],
    words: ['card'],
    isValid: isCard,
    alone: { grouped: 'likely' },
  },
  person('ch-ahv', /\bahv|\bavs\b|oasi/, [13], /^756\d{10}$/, ['3-4-4-2'], scheme('CH', 'ssn'), {
    grouped: 'sure',
    unbroken: 'likely',
  }),
  person(
    'it-codice-fiscale',
    /codice fisc|\bc\.? ?f\.?\b/,
    [16],
    /^[A-Z]{6}\d{2}[A-Z]\d{2}[A-Z][\dA-Z]{3}[A-Z]$/,
    ['6-5-5', '3-3-5-5'],
    scheme('IT', 'codicefiscale'),
    {
      grouped: 'sure',
      unbroken: 'sure',
    },
  ),
  person('fi-hetu', /hetu\b|henkilotunnus/, [10, 11], /^\d{6}[A-FU-Y]?\d{3}[\dA-Z]$/, ['6-4'], HETU),
  person(
    'be-rijksregister',
    /rijksreg|registre nat|\bniss\b/,
    [11],
    /^\d{11}$/,
    ['2-2-2-3-2', '6-3-2', '6-5'],
    scheme('BE', 'nn'),
    {
      grouped: 'likely',
    },
  ),
  person(
    'fr-nir',
    /\bnir\b|insee|securite soc|\bsecu\b|vitale/,
    [15],
    /^[12]\d{4}(?:\d{2}|2[AB])\d{8}$/,
    ['1-2-2-2-3-3-2', '13-2'],
    scheme('FR', 'nir'),
    {
      grouped: 'sure',
      unbroken: 'likely',
    },
  ),
  person('fr-spi', /\bspi\b|fiscal|impot/, [13], /^[0-3]\d{12}$/, ['2-2-3-3-3', '4-3-3-3'], scheme('FR', 'nif')),
  person('es-dni', /\bdni\b|\bnif\b/, [9], /^\d{8}[A-Z]$/, ['8-1', '2-3-3-1', '2-3-4'], scheme('ES', 'dni'), {
    grouped: 'likely',
  }),
  person('es-nie', /\bnie\b/, [9], /^[XYZ]\d{7}[A-Z]$/, ['1-7-1', '8-1'], scheme('ES', 'nie'), {
    grouped: 'likely',
    unbroken: 'likely',
  }),
  person(
    'gb-nino',
    /national ins|\bni (?:no|num)|\bnino\b/,
    [9],
    /^[A-CEGHJ-PR-TW-Z]{2}\d{6}[A-D]$/,
    ['2-2-2-2-1', '2-6-1'],
    scheme('GB', 'nino'),
    {
      grouped: 'sure',
      unbroken: 'likely',
    },
  ),
  person('ie-pps', /\bpps/, [8, 9], /^\d{7}[A-W][A-IW]?$/, ['7-1', '7-2'], scheme('IE', 'pps')),
  person('pl-pesel', /pesel|ewidencyjn/, [11], /^\d{11}$/, ['6-5'], scheme('PL', 'pesel')),
  person('de-idnr', /steuer|\bidnr/, [11], /^[1-9]\d{10}$/, ['2-3-3-3'], scheme('DE', 'idnr'), { grouped: 'likely' }),
  person(
    'de-rvnr',
    /sozialvers|rentenv|\brvnr|\bsv-?nr|\bsvnr/,
    [12],
    /^\d{8}[A-Z]\d{3}$/,
    ['2-6-1-3', '2-6-1-2-1'],
    scheme('DE', 'svnr'),
    {
      grouped: 'sure',
      unbroken: 'likely',
    },
  ),
  person('nl-bsn', /\bbsn|burgerservice|sofi/, [9], /^\d{9}$/, ['4-2-3', '3-3-3'], scheme('NL', 'bsn')),
  person('pt-nif', /\bnif\b|\bnipc\b|contribuinte/, [9], /^[1235689]\d{8}$/, ['3-3-3'], scheme('PT', 'nif')),
  person('pt-cidadao', /cidadao|\bcc\b/, [12], /^\d{9}[\dA-Z]{2}\d$/, ['8-1-3', '8-1-2-1'], scheme('PT', 'cc'), {
    grouped: 'sure',
    unbroken: 'likely',
  }),
  person('at-svnr', /sozialvers|\bsv-?nr|\bsvnr/, [10], /^[1-9]\d{9}$/, ['4-6'], scheme('AT', 'vnr')),
  person('se-personnummer', /person ?n/, [10, 12], /^(?:\d{10}|\d{12})$/, ['6-4', '8-4'], PERSONNUMMER),
  person('no-fodselsnummer', /fodsels|person ?n/, [11], /^\d{11}$/, ['6-5'], scheme('NO', 'fodselsnummer')),
  person('dk-cpr', /\bcpr/, [10], /^\d{10}$/, ['6-4'], scheme('DK', 'cpr')),
  person('us-ssn', /\bssn\b|social sec/, [9], /^\d{9}$/, ['3-2-4'], scheme('US', 'ssn'), undefined, ['person']),
  person('us-ein', /\bein\b|employer id/, [9], /^\d{9}$/, ['2-7'], scheme('US', 'ein'), undefined, ['tax']),
  person('ca-sin', /\bsin\b|social ins/, [9], /^[1-79]\d{8}$/, ['3-3-3'], scheme('CA', 'sin'), undefined, ['person']),
  person('br-cpf', /\bcpf\b/, [11], /^\d{11}$/, ['3-3-3-2'], scheme('BR', 'cpf'), { grouped: 'likely' }),
  person('in-aadhaar', /aadhaar|aadhar/, [12], /^[2-9]\d{11}$/, ['4-4-4'], scheme('IN', 'aadhaar'), undefined, [
    'person',
  ]),
  person('gb-utr', /\butr\b|taxpayer ref/, [10], /^\d{10}$/, ['5-5'], scheme('GB', 'utr'), undefined, ['tax']),
  person('au-tfn', /\btfn\b|tax file/, [9], /^\d{9}$/, ['3-3-3'], scheme('AU', 'tfn'), undefined, ['tax']),
  person('pl-nip', /\bnip\b/, [10], /^\d{10}$/, ['3-3-2-2', '3-2-2-3'], scheme('PL', 'nip'), undefined, ['tax']),
  {
    kind: 'health',
    of: 'gb-nhs',
    lengths: [10],
    shape: /^\d{10}$/,
    groups: ['3-3-4'],
    words: ['health'],
    isValid: isNhs,
  },
  {
    kind: 'health',
    of: 'de-kvnr',
    lengths: [10],
    shape: /^[A-Z]\d{9}$/,
    groups: ['1-3-3-3', '4-3-3'],
    words: ['health'],
    isValid: isKvnr,
  },
  {
    kind: 'account',
    of: 'pl-nrb',
    lengths: [26],
    shape: /^\d{26}$/,
    groups: ['2-4-4-4-4-4-4'],
    words: ['account'],
    // An IBAN without its country: PL is 25 and 21 (ISO 7064).
    isValid: (digits) => mod97(`${digits.slice(2)}2521${digits.slice(0, 2)}`) === 1,
    alone: { grouped: 'sure', unbroken: 'likely' },
  },
  {
    kind: 'account',
    of: 'es-ccc',
    lengths: [20],
    shape: /^\d{20}$/,
    groups: ['4-4-2-10', '4-4-4-4-4'],
    words: ['account'],
    isValid: isCcc,
    alone: { grouped: 'likely' },
  },
  {
    kind: 'account',
    of: 'be-account',
    lengths: [12],
    shape: /^\d{12}$/,
    groups: ['3-7-2'],
    words: ['account'],
    isValid: (digits) => (mod97(digits.slice(0, 10)) || 97) === Number(digits.slice(10)),
  },
  {
    kind: 'account',
    of: 'no-account',
    lengths: [11],
    shape: /^\d{11}$/,
    groups: ['4-2-5'],
    words: ['account'],
    isValid: by(scheme('NO', 'kontonr')),
    alone: { grouped: 'likely' },
  },
  {
    kind: 'account',
    of: 'gb-account',
    // Sort code and account: no check digit common to all banks, so the words and the form have to say it.
    lengths: [14],
    shape: /^\d{14}$/,
    groups: ['2-2-2-8'],
    words: ['account'],
    isValid: () => true,
  },
  {
    kind: 'account',
    of: 'us-routing',
    lengths: [9],
    shape: /^\d{9}$/,
    groups: ['4-5'],
    words: ['bankCode'],
    isValid: isRouting,
  },
];
