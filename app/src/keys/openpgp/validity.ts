/** How long a key is made for, as an office counts. */
import { DateTime } from 'luxon';

export const SPANS = ['one', 'two', 'five', 'none'] as const;
export type Span = (typeof SPANS)[number];

const years: Record<Exclude<Span, 'none'>, number> = { one: 1, two: 2, five: 5 };

/** Undefined: without an end. */
export const endAfter = (span: Span, now: Date): Date | undefined =>
  span === 'none' ? undefined : DateTime.fromJSDate(now).plus({ years: years[span] }).toJSDate();

export const spanWords: Record<Span, { label: string; detail?: string }> = {
  one: { label: 'One year' },
  two: { label: 'Two years', detail: 'What most people choose: it can be lengthened at any time, without a new key' },
  five: { label: 'Five years' },
  none: {
    label: 'Without an end',
    detail: 'A key that is lost stays in use by others for ever: choose this only if somebody asks for it',
  },
};
