/** The office's own lists of words: whole words, whatever their case and accents, with the endings that languages put to them. */
import { type Finding, findingAt, type Span } from './finding';
import { type WordList } from './listed';
import { flat } from './near';

/** Shorter words take no ending: "bid" is not found in "bidet". */
const INFLECTED_FROM = 5; // letters
const ENDING = '[a-z]{0,3}';

const escaped = (word: string): string => word.replace(/[.*+?^${}()|[\]\\]/g, String.raw`\$&`);

const PARTED = String.raw`[\s\u00a0-]{1,3}`;

const endingOf = (word: string): string => (word.length >= INFLECTED_FROM && /[a-z]$/.test(word) ? ENDING : '');

/**
 * What begins with one word, which stands in it once: a list may have hundreds that do.
 *
 * @param words As words are looked for, the longer first.
 */
function asPattern(first: string, words: readonly string[]): string {
  const rests = words.map((word) => word.split(/\s+/).slice(1)).filter(({ length }) => length > 0);
  const further = rests.map((rest) => `${rest.map(escaped).join(PARTED)}${endingOf(rest.at(-1)!)}`);
  const alone = rests.length < words.length ? [endingOf(first)] : [];
  const after = [...(further.length > 0 ? [`${PARTED}(?:${further.join('|')})`] : []), ...alone];
  return `${escaped(first)}(?:${after.join('|')})`;
}

interface Compiled {
  id: string;
  /** The first words, as literals only: an engine takes thousands of them in one pass. */
  firsts: RegExp;
  /** What a first word may go on as, from where it begins. */
  from: ReadonlyMap<string, RegExp>;
}

const isSign = (sign: string | undefined): boolean => sign !== undefined && /[a-z0-9]/.test(sign);

function compile({ id, words }: WordList): Compiled {
  // A longer one goes before one that it begins with.
  const all = [...new Set(words.map((word) => flat(word).trim()))]
    .filter((word) => word !== '')
    .sort((one, other) => other.length - one.length);
  const firstOf = (word: string): string => word.split(/\s+/)[0]!;
  const firsts = [...new Set(all.map(firstOf))].sort((one, other) => other.length - one.length);
  // A text that begins with a longer first word begins with a shorter one, too.
  const beginning = new Map<string, string[]>();
  for (const word of all) beginning.set(firstOf(word), [...(beginning.get(firstOf(word)) ?? []), word]);
  const within = (first: string): string[] =>
    Array.from({ length: first.length }, (_, cut) => first.slice(0, first.length - cut))
      .filter((shorter) => beginning.has(shorter))
      .map((shorter) => asPattern(shorter, beginning.get(shorter)!));
  return {
    id,
    firsts: new RegExp(firsts.map(escaped).join('|'), 'g'),
    from: new Map(firsts.map((first) => [first, new RegExp(`(?:${within(first).join('|')})(?![a-z0-9])`, 'y')])),
  };
}

function* spansOf(plain: string, { firsts, from }: Compiled): Generator<Span> {
  firsts.lastIndex = 0;
  for (let first = firsts.exec(plain); first !== null; first = firsts.exec(plain)) {
    const at = first.index;
    const whole = from.get(first[0])!;
    whole.lastIndex = at;
    const word = isSign(plain[at - 1]) ? null : whole.exec(plain);
    if (word !== null) yield { from: at, to: at + word[0].length };
    firsts.lastIndex = word === null ? at + 1 : at + word[0].length;
  }
}

/**
 * Made once for a set of lists.
 *
 * @returns What finds them in a text as words are looked for in it (`flat`), in the order of the text.
 */
export function wordFinder(lists: readonly WordList[]): (text: string, plain: string) => Finding[] {
  const compiled = lists.filter(({ words }) => words.length > 0).map(compile);
  return (text, plain) =>
    compiled
      .flatMap((list) =>
        [...spansOf(plain, list)].map(({ from, to }) => {
          // The office chose the word itself: it is no secret to whoever writes it.
          const excerpt = text.slice(from, to).replace(/\s+/g, ' ').slice(0, 40);
          return findingAt(text, { from, to }, { kind: 'word', of: list.id, confidence: 'sure' }, excerpt);
        }),
      )
      .sort((one, other) => one.from - other.from);
}
