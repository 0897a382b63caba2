/**
 * How the office's notices look: its own words by language, and its colour. Every place a text may name is known, so
 * that none goes out with a gap in it.
 */
import { z } from 'zod';
import { LANGUAGES, type Language } from '../language';

/** The parts an office may word itself; the date, the identity check and the link are always ours. */
export const NOTICE_PARTS = ['subject', 'greeting', 'opening', 'doubt', 'foot', 'outer'] as const;
export type NoticePart = (typeof NOTICE_PARTS)[number];
export const PLACEHOLDERS = ['sender', 'address', 'recipient', 'office'] as const;
export type Placeholder = (typeof PLACEHOLDERS)[number];

export interface TextRules<Name extends string> {
  /** What it may name. */
  may: readonly Name[];
  /** What it must name, or the reader could not tell whom it is from. */
  must: readonly Name[];
  max: number;
  /** Several lines are allowed. */
  lines: boolean;
}
export const PART_RULES: Record<NoticePart, TextRules<Placeholder>> = {
  subject: { may: ['sender', 'office'], must: ['sender'], max: 120, lines: false },
  greeting: { may: ['recipient'], must: ['recipient'], max: 100, lines: false },
  opening: { may: ['sender', 'address', 'office', 'recipient'], must: ['sender', 'address'], max: 600, lines: true },
  doubt: { may: ['sender', 'office'], must: [], max: 400, lines: true },
  foot: { may: ['office'], must: ['office'], max: 300, lines: true },
  // Outside of encrypted mail, where everybody on its way reads it.
  outer: { may: ['office'], must: [], max: 120, lines: false },
};

export const noticeTextsSchema = z.object({
  subject: z.string().max(200),
  greeting: z.string().max(200),
  opening: z.string().max(1000),
  doubt: z.string().max(1000),
  foot: z.string().max(1000),
  outer: z.string().max(200),
});
export type NoticeTexts = z.infer<typeof noticeTextsSchema>;
export const noticeLookSchema = z.object({
  /** `#rrggbb`, of the button and of the reading room's band. */
  colour: z.string().regex(/^#[\da-f]{6}$/i),
  /** Languages without words of the office's own speak ours. */
  texts: z.partialRecord(z.enum(LANGUAGES), noticeTextsSchema),
});
export type NoticeLook = z.infer<typeof noticeLookSchema>;

export const OUR_COLOUR = '#0E5A4C';
export const OUR_LOOK: NoticeLook = { colour: OUR_COLOUR, texts: {} };

export type TextProblem<Name extends string = Placeholder> =
  | { code: 'empty' }
  | { code: 'too-long'; limit: number }
  | { code: 'several-lines' }
  | { code: 'unknown-placeholder'; name: string }
  | { code: 'placeholder-elsewhere'; name: string }
  | { code: 'placeholder-missing'; name: Name }
  | { code: 'loose-brace' }
  | { code: 'link' };

const NAMED = /\{([^{}]*)\}/g;

export const textProblem = (part: NoticePart, text: string): TextProblem | undefined =>
  problemIn(text, PART_RULES[part], PLACEHOLDERS);

/**
 * What is wrong with a text of the office's, or undefined; `known` is every placeholder there is. A link is refused: a
 * notice has one, and readers are told to look for no other.
 */
export function problemIn<Name extends string>(
  text: string,
  { may, must, max, lines }: TextRules<Name>,
  known: readonly Name[],
): TextProblem<Name> | undefined {
  if (text.trim() === '') return { code: 'empty' };
  if (text.length > max) return { code: 'too-long', limit: max };
  if (!lines && /[\r\n]/.test(text)) return { code: 'several-lines' };
  // eslint-disable-next-line no-control-regex
  if (/[\x00-\x09\x0b-\x1f\x7f]|\p{Bidi_Control}/u.test(text)) return { code: 'several-lines' };
  for (const [, name] of text.matchAll(NAMED)) {
    if (!known.some((one) => one === name)) return { code: 'unknown-placeholder', name: name! };
    if (!may.some((one) => one === name)) return { code: 'placeholder-elsewhere', name: name! };
  }
  if (/[{}]/.test(text.replace(NAMED, ''))) return { code: 'loose-brace' };
  const missing = must.find((name) => !text.includes(`{${name}}`));
  if (missing !== undefined) return { code: 'placeholder-missing', name: missing };
  if (
    /\b(?:https?:|www\.)/i.test(text) ||
    /\b[\w-]+\.(?:com|net|org|info|eu|example)\b/i.test(
      text
        .split(/\s/)
        .filter((word) => !word.includes('@'))
        .join(' '),
    )
  )
    return { code: 'link' };
  return undefined;
}

/** The texts with what they name. Pure: one pass, so that a name which holds braces is not read as a placeholder. */
export const fillText = <Name extends string>(text: string, values: Record<Name, string>): string =>
  text.replace(NAMED, (whole, name: string) => values[name as Name] ?? whole);

/** Whether white letters on `colour` can be read: 4.5 to 1 (WCAG 2.2, 1.4.3; relative luminance as defined there). */
export function isReadableColour(colour: string): boolean {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const part = parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 1.05 / (0.2126 * r + 0.7152 * g + 0.0722 * b + 0.05) >= 4.5;
}

/** The first thing wrong with a whole look: which part in which language. */
export function lookProblem({
  colour,
  texts,
}: NoticeLook):
  { part: NoticePart | 'colour'; language?: Language; problem: TextProblem | { code: 'colour' } } | undefined {
  if (!isReadableColour(colour)) return { part: 'colour', problem: { code: 'colour' } };
  for (const language of LANGUAGES) {
    const own = texts[language];
    if (own === undefined) continue;
    for (const part of NOTICE_PARTS) {
      const problem = textProblem(part, own[part]);
      if (problem !== undefined) return { part, language, problem };
    }
  }
  return undefined;
}
