/** Leave for a worker's browser to hand one text in at the phone door. What stands in it is none of ours. */
import { randomUUID } from 'node:crypto';
import { takeTry, type Throttle } from '../limits/throttle';
import { type Context } from '../context';
import { type AccountRow } from '../data/models';
import { invalid, Problem } from '../problem';
import { toNumber } from './budget';
import { isCostly } from './costly';
import { type TextPermit } from './door';

/** Texts an hour that nobody has to wait for. */
const FREE = 60;
const HOUR_MS = 3_600_000;

/** @throws Problem `own-number`, `too-many-tries`, `unreachable` */
export async function permitText(context: Context, account: AccountRow, to: string): Promise<TextPermit> {
  if (account.phone === to)
    throw new Problem('own-number', 400, 'That is your own number', {
      detail: 'That is your own number: the password would come to you. Ask for the recipient’s.',
    });
  if (isCostly(to)) throw invalid('That is a premium, shared-cost or satellite number; nothing is sent there.');
  const asked: Throttle[] = [
    { purpose: 'text-permit', who: `${account.id}/${Math.floor(context.clock().getTime() / HOUR_MS)}`, free: FREE },
    { ...toNumber(to), free: 20 },
  ];
  await takeTry(context, asked);
  const permit = await context.phone.permit(to, randomUUID());
  if (permit === undefined)
    throw new Problem('unreachable', 502, 'The phone door gave no permit', {
      detail:
        'The gateway for text messages does not answer, so the password was not sent. Try again, or tell them on the phone.',
    });
  return permit;
}
