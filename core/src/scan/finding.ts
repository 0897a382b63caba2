/** What the scan says it saw. */

export const KINDS = [
  'card',
  'account',
  'national',
  'health',
  'passport',
  'birth',
  'list',
  'credential',
  'word',
  'pattern',
] as const;
export type Kind = (typeof KINDS)[number];

/** `sure`: the number checks and its form or a word beside it says what it is; `likely`: one of the two is weaker. */
export const CONFIDENCES = ['sure', 'likely'] as const;
export type Confidence = (typeof CONFIDENCES)[number];

/** In UTF-16 units of the text that was looked through; `to` is behind its last. */
export interface Span {
  from: number;
  to: number;
}

/** Within a sentence. */
export const KIND_WORDS: Record<Kind, string> = {
  card: 'payment card',
  account: 'bank account',
  national: 'national or tax number',
  health: 'health number',
  passport: 'passport',
  birth: 'date of birth',
  list: 'list of people',
  credential: 'password or key',
  word: 'word of the office',
  pattern: 'pattern of the office',
};

export interface Finding extends Span {
  kind: Kind;
  /** Which of its kind: a number's scheme (`iban`, `pl-pesel`), a credential's form, an office list's or pattern's id. */
  of: string;
  confidence: Confidence;
  /** What stands there with most of it covered: enough to find it again, too little to use it. */
  excerpt: string;
  /** Of how many it speaks: a list's entries; one otherwise. */
  count: number;
}

/** What was found at a place of a text, once; what stands there is covered where nothing else is to be shown of it. */
export const findingAt = (
  text: string,
  { from, to }: Span,
  what: Pick<Finding, 'kind' | 'of' | 'confidence'>,
  excerpt = masked(text.slice(from, to)),
): Finding => ({ ...what, from, to, excerpt, count: 1 });

const COVER = '•';
const SHOWN_ENDS = 2;

/**
 * Covers letters and figures but the last two, and the first two where there are more than eight; what parts them stays.
 * Forty characters at most.
 */
export function masked(text: string): string {
  const signs = [...text.replace(/\s+/g, ' ').trim()].slice(0, 40);
  const counted = signs.filter((sign) => /[\p{L}\p{N}]/u.test(sign)).length;
  const head = counted > 8 ? SHOWN_ENDS : 0;
  const tail = counted > 4 ? SHOWN_ENDS : 0;
  let seen = 0;
  return signs
    .map((sign) => {
      if (!/[\p{L}\p{N}]/u.test(sign)) return sign;
      seen += 1;
      return seen <= head || seen > counted - tail ? sign : COVER;
    })
    .join('');
}
