/**
 * What an office's own note around a locked file must keep to. Apart from the notes themselves, so that pages which
 * only check one load none.
 */
import { z } from 'zod';
import { LANGUAGES } from '../../language';
import { problemIn, type TextProblem, type TextRules } from '../../notice/look';

export const COVER_PLACEHOLDERS = ['recipient', 'sender', 'address', 'office', 'file', 'password', 'open'] as const;
export type CoverPlaceholder = (typeof COVER_PLACEHOLDERS)[number];
/** Whom it is from, which file, how the password comes and how it opens: without one of these nobody could. */
export const COVER_RULES: TextRules<CoverPlaceholder> = {
  may: COVER_PLACEHOLDERS,
  must: ['sender', 'file', 'password', 'open'],
  max: 2_000,
  lines: true,
};
export const coverProblem = (text: string): TextProblem<CoverPlaceholder> | undefined =>
  problemIn(text, COVER_RULES, COVER_PLACEHOLDERS);

const template = z.string().max(COVER_RULES.max);
/** The office's own, by language; ours where there is none. */
export const coverTemplatesSchema = z.partialRecord(z.enum(LANGUAGES), template);
export type CoverTemplates = z.infer<typeof coverTemplatesSchema>;
