/**
 * How often a phone is texted or called for us, by whomever and for however many messages; and how often one reader may
 * have others' phones texted.
 */
import { takeTry, type Throttle } from '../limits/throttle';
import { type Context } from '../context';
import { type GrantRow } from '../data/models';

const HOUR_MS = 3_600_000;

/** What is sent to one number: after the free ones an hour apart, then two, four, … */
export const toNumber = (number: string): Omit<Throttle, 'free'> => ({
  purpose: 'phone/number',
  who: number,
  firstWaitMs: HOUR_MS,
  longestWaitMs: 24 * HOUR_MS,
});

/** Whoever passes something on has chosen the number; the office has not. */
const NAMED_BY_ONE_READER = 6;

/** @throws Problem `too-many-tries` with the time from which on it may be sent again */
export async function spendCodes(
  context: Context,
  { parentId, checkKind }: Pick<GrantRow, 'parentId' | 'checkKind'>,
  target: string,
): Promise<void> {
  if (checkKind !== 'text' && checkKind !== 'voice') return;
  const named: Throttle[] =
    parentId == null
      ? []
      : [
          {
            purpose: 'phone/named-by',
            who: parentId,
            free: NAMED_BY_ONE_READER,
            firstWaitMs: HOUR_MS,
            longestWaitMs: 24 * HOUR_MS,
          },
        ];
  await takeTry(context, [{ ...toNumber(target), free: context.config.office.codesADay }, ...named]);
}
