/** Words the office has chosen for the subject or the first line: whoever writes one says by it what must happen. */
import { distance } from 'fastest-levenshtein';
import { z } from 'zod';

export const MAX_TAGS = 50;

export const tagSchema = z.object({
  id: z.uuid(),
  /** As it is written, brackets included. */
  word: z
    .string()
    .trim()
    .min(3)
    .max(40)
    .regex(/[\p{L}\p{N}]/u),
  /** Where it counts. */
  place: z.enum(['subject', 'first-line']),
  /** It is for the office alone: what leaves is without it. */
  takenOut: z.boolean(),
});
export type Tag = z.infer<typeof tagSchema>;

interface Written {
  subject: string;
  text: string;
}

/** Tags that what was last typed in a line begins, for whoever wants the rest of it. */
export function offeredTags(tags: readonly Tag[], subject: string): Tag[] {
  const typed = subject.slice(subject.lastIndexOf(' ') + 1).toLowerCase();
  if (typed.length < 2) return [];
  return tags.filter(({ place, word }) => {
    const lower = word.toLowerCase();
    return (
      place === 'subject' && (lower.startsWith(typed) || coreOf(lower).startsWith(typed)) && !subject.endsWith(word)
    );
  });
}

/** The line with a tag in place of what was typed of it. */
export const withOffered = (subject: string, { word }: Tag): string =>
  `${subject.slice(0, subject.lastIndexOf(' ') + 1)}${word} `;

/** Something that is nearly a tag. */
export interface NearTag {
  tag: Tag;
  /** As it stands there. */
  written: string;
}

/** Nobody writes a longer one. */
const LOOKED_AT = 1_000; // UTF-16 units
/** In a shorter word another letter makes another word. */
const ALIKE_FROM = 4; // letters
const WORD = /[\p{L}\p{N}'’-]+/gu;
const SIGN = /[^\p{L}\p{N}\s]/u;

const firstLine = (text: string): string => text.trimStart().split('\n', 1)[0]!;
const lineOf = ({ place }: Tag, { subject, text }: Written): string =>
  (place === 'subject' ? subject : firstLine(text)).slice(0, LOOKED_AT);

const coreOf = (text: string): string => (text.match(WORD) ?? []).join(' ').toLowerCase();

/** Where it stands as a whole word; -1 where it does not. */
function placeOf(line: string, word: string): number {
  const isOutside = (sign: string | undefined): boolean => sign === undefined || !/[\p{L}\p{N}]/u.test(sign);
  for (let at = line.indexOf(word); at !== -1; at = line.indexOf(word, at + 1)) {
    const [begins, ends] = [/^[\p{L}\p{N}]/u.test(word), /[\p{L}\p{N}]$/u.test(word)];
    if ((!begins || isOutside(line[at - 1])) && (!ends || isOutside(line[at + word.length]))) return at;
  }
  return -1;
}

/** Those that stand there, letter by letter. */
export const tagsIn = (tags: readonly Tag[], written: Written): Tag[] =>
  tags.filter((tag) => placeOf(lineOf(tag, written), tag.word) !== -1);

/** So many words of a line, with the signs right beside them. */
function* stretches(line: string, count: number): Generator<{ inner: string; stretch: string; hasSign: boolean }> {
  const words = [...line.matchAll(WORD)];
  for (let first = 0; first + count <= words.length; first += 1) {
    const last = words[first + count - 1]!;
    let [from, to] = [words[first]!.index, last.index + last[0].length];
    const inner = line.slice(from, to);
    const before = /[^\p{L}\p{N}\s]\s?$/u.exec(line.slice(0, from));
    const after = /^\s?[^\p{L}\p{N}\s]/u.exec(line.slice(to));
    if (before !== null) from -= before[0].length;
    if (after !== null) to += after[0].length;
    yield { inner, stretch: line.slice(from, to), hasSign: before !== null || after !== null };
  }
}

/**
 * What is nearly one: other case, other brackets, spaces, or one letter more, less or other. A tag that is there is near
 * to none.
 */
export function nearTags(tags: readonly Tag[], written: Written): NearTag[] {
  const there = tagsIn(tags, written);
  const exact = new Set(there.map(({ word }) => coreOf(word)));
  return tags.flatMap((tag) => {
    const core = coreOf(tag.word);
    if (exact.has(core)) return [];
    const needsSign = SIGN.test(tag.word);
    for (const { inner, stretch, hasSign } of stretches(lineOf(tag, written), core.split(' ').length)) {
      const other = coreOf(inner);
      if ((needsSign && !hasSign) || exact.has(other)) continue;
      const isAlike =
        other === core || (core.length >= ALIKE_FROM && core[0] === other[0] && distance(core, other) === 1);
      if (isAlike) return [{ tag, written: needsSign ? stretch : inner }];
    }
    return [];
  });
}

/** A line as it is with the tag in place of what was nearly one. */
export const withTag = (line: string, { tag, written }: NearTag): string => line.replace(written, () => tag.word);

/** What leaves: without the tags that are for the office alone, in the text as in its HTML. */
export function withoutTags<W extends Written & { html: string }>(tags: readonly Tag[], written: W): W {
  const out = tagsIn(tags, written).filter(({ takenOut }) => takenOut);
  const without = (line: string, word: string): string => {
    const at = placeOf(line, word);
    return at === -1 ? line : `${line.slice(0, at).trimEnd()} ${line.slice(at + word.length).trimStart()}`.trim();
  };
  return out.reduce((left, { place, word }) => {
    if (place === 'subject') return { ...left, subject: without(left.subject, word) };
    const first = firstLine(left.text);
    // Its letters are spelled the same in HTML, but for the signs that mean something there.
    const spelled = word.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
    return {
      ...left,
      text: left.text.replace(first, () => without(first, word)),
      html: left.html.replace(spelled, ''),
    };
  }, written);
}
