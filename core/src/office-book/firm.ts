/** A firm in the office book, by the domain of its addresses: what holds for everybody there. */
import { z } from 'zod';
import { changeSchema } from './person';

export const firmSchema = z.object({
  domain: z.string(),
  /** The lock for whoever has no other one chosen for them. */
  lock: z.string().optional(),
  /** The newest first. */
  changes: z.array(changeSchema),
});
export type Firm = z.infer<typeof firmSchema>;

/** What plans take of firms, by domain in lower case. */
export type FirmLocks = ReadonlyMap<string, string>;

export const firmLocks = (firms: readonly Firm[]): FirmLocks =>
  new Map(firms.flatMap(({ domain, lock }) => (lock === undefined ? [] : [[domain.toLowerCase(), lock] as const])));
