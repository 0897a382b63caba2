/** The plan as the Write page has it: made off the key press from what the page knows. */
import { type Account, type listColleagues } from '@under-lock/contract/account';
import { type Reply } from '@under-lock/contract/client';
import { type Office } from '@under-lock/contract/office';
import { type Preset } from '@under-lock/contract/handling';
import { type Registered } from '@under-lock/contract/registered';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import * as outgoing from '@under-lock/core/outgoing/plan';
import { type DeliveryPlan, type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { type WithOffice } from '@under-lock/core/office-book/planned';
import { type Book } from '@under-lock/core/passwords/entry';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import { zone } from '../clock';
import { type RecipientCertificates } from '../people/certificates';
import { type RecipientKeys } from '../people/keys';
import { useSame } from './useSame';

export type Colleague = Reply<typeof listColleagues>['colleagues'][number];

/** What the page knows, in the shapes in which it came. */
export interface PlanContext extends Omit<Known<Preset>, 'zone'> {
  office: Office;
  account: Account;
  colleagues: readonly Colleague[];
  registered: readonly Registered[];
  certificates: RecipientCertificates;
  keys: RecipientKeys;
}

/** And what of it is the sender's own, and what the office's. */
export interface WritingContext extends PlanContext {
  /** Of `people` those the sender keeps; the others are in the office book only. */
  ownPeople: readonly Kept<Person>[];
  /** Of `passwords` likewise. */
  ownPasswords: Book;
  /** What of each came from the office book. */
  fromBook: WithOffice['fromBook'];
}

export type Planned = outgoing.Planned<Preset>;

/** In the time zone of the worker's device. */
export const makePlan = (draft: Draft, context: PlanContext): Planned => outgoing.makePlan(draft, { ...context, zone });

/** Lines that say the same as before stay the same objects: only those that changed are drawn again. */
function withKeptLines(plan: DeliveryPlan, before: readonly PlanLine[]): DeliveryPlan {
  const known = new Map(before.map((line) => [line.recipient.address, line]));
  const lines = plan.lines.map((line) => {
    const old = known.get(line.recipient.address);
    return old !== undefined && JSON.stringify(old) === JSON.stringify(line) ? old : line;
  });
  return { ...plan, lines };
}

type Offered = { [Key in keyof PlanContext]: PlanContext[Key] | undefined };

const isWhole = (offered: Offered): offered is PlanContext => Object.values(offered).every((one) => one !== undefined);

const planFrom = (draft: Draft, offered: Offered): Planned | undefined =>
  isWhole(offered) ? makePlan(draft, offered) : undefined;

/**
 * Planned off the key press: while somebody writes, what they see is the plan of the draft as it `rested` last;
 * `planNow` makes that of this very draft. With sixty recipients a plan and its drawing take longer than a key may.
 */
export function usePlan(
  rested: Draft,
  draft: Draft,
  context: Offered,
): { planned: Planned | undefined; planNow: () => Planned | undefined } {
  const settled = useDeferredValue(rested);
  const known = useSame(context);
  const [shown] = useState<{ lines: readonly PlanLine[] }>(() => ({ lines: [] }));
  const planned = useMemo(() => {
    const made = planFrom(settled, known);
    return made === undefined ? undefined : { ...made, plan: withKeptLines(made.plan, shown.lines) };
  }, [settled, known, shown]);
  useEffect(() => {
    if (planned !== undefined) Object.assign(shown, { lines: planned.plan.lines });
  }, [planned, shown]);
  return { planned, planNow: () => planFrom(draft, { ...context, now: new Date() }) };
}
