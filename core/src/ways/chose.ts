/** How somebody chose to be written to, as it is kept with them (docs/decisions/29). */
import { IDENTITY_CHECKS, type IdentityCheck, isAsStrong } from '../handling/handling';
import { z } from 'zod';

/** The ways that can be chosen; each leads to the lock of the same name. */
export const CHOICE_WAYS = ['room', 'file', 'certificate', 'openpgp'] as const;
export type ChoiceWay = (typeof CHOICE_WAYS)[number];

/** A wish for a lock, and how sure it is that it is theirs. */
export const choseSchema = z.object({
  lock: z.enum(CHOICE_WAYS),
  at: z.string(),
  /** What they had passed when they chose. */
  check: z.enum(IDENTITY_CHECKS),
});
export type Chose = z.infer<typeof choseSchema>;

/** Whether a choice made under one check may change how something goes that asks for another. */
export const choiceSuffices = ({ lock, check }: Pick<Chose, 'lock' | 'check'>, asked: IdentityCheck): boolean =>
  lock === 'room' || isAsStrong(check, asked);
