/** How long something may be read, as it is chosen: what can be told and kept without any calendar. */
import { z } from 'zod';

export const CLOSING_CHOICES = [
  'end-of-today',
  'end-of-week',
  'two-weeks',
  'end-of-month',
  'end-of-quarter',
  'exact',
] as const;
export type ClosingKind = (typeof CLOSING_CHOICES)[number];

/** The choices that mean a date at any time: those an office can prescribe. */
export const officeClosingSchema = z.object({ kind: z.enum(CLOSING_CHOICES).exclude(['exact']) });

export const closingSchema = z.discriminatedUnion('kind', [
  officeClosingSchema,
  /** Wall-clock time in the worker's zone, `yyyy-MM-ddTHH:mm`. */
  z.object({ kind: z.literal('exact'), local: z.string().regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d$/) }),
]);
export type Closing = z.infer<typeof closingSchema>;

export interface OfficeCalendar {
  /** IANA time zone of whoever counts, such as `Europe/Lisbon`. */
  zone: string;
  /** `HH:mm`, the hour at which an office day ends. */
  dayEnds: string;
  /** ISO weekday (1 = Monday) on which the working week ends. */
  weekEndsOn: number;
  /** Nothing may stay readable for longer than this many days. */
  maxDays: number;
}
