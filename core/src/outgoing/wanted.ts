/** What a plan asks to be made: an access for each who reads here, a mail of their own for those who get a copy. */
import { type CopyLockName } from '../locks/index';
import { lockKinds } from '../locks/list';
import { type Among } from '../locks/known';
import { type WantedCopy, type WantedGrant } from '../locks/wanted';
import { type PlanLine } from './delivery-plan';
import { type Draft } from './draft';
import { type KnownToSend } from './known';
import { type Planned } from './plan';
import { ALL_WAYS } from '../ways/file-way';

/** Among whom they are wanted, and how far rules leave a choice. */
export const amongOf = (draft: Draft, { verdict }: Pick<Planned, 'verdict'>, known: KnownToSend): Among => ({
  ...known,
  settled: draft.recipients,
  allowedWays: verdict?.demand.ways ?? ALL_WAYS,
});

const linesOf = ({ plan }: Pick<Planned, 'plan'>, lock: string): PlanLine[] =>
  plan.lines.filter(({ chosen }) => chosen.lock === lock);

/** Accesses in the order of the recipients, whichever lock gives them. */
export function wantedGrants(planned: Pick<Planned, 'plan'>, among: Among): WantedGrant[] {
  const grants = lockKinds.flatMap((kind) =>
    kind.gives === 'access' ? kind.want(linesOf(planned, kind.lock), among) : [],
  );
  const place = ({ address }: WantedGrant): number =>
    planned.plan.lines.findIndex(({ recipient }) => recipient.address === address);
  return grants.sort((a, b) => place(a) - place(b));
}

export const wantedCopies = (planned: Pick<Planned, 'plan'>, among: Among): WantedCopy<CopyLockName>[] =>
  lockKinds.flatMap((kind): WantedCopy<CopyLockName>[] =>
    kind.gives === 'copy' ? kind.want(linesOf(planned, kind.lock), among) : [],
  );
