/** The plan for a draft: derived on every change, kept nowhere. */
import { type Account } from '@under-lock/contract/account';
import { type Office } from '@under-lock/contract/office';
import { resolveClosing } from '@under-lock/core/handling/closing';
import { lockKinds } from '@under-lock/core/locks/index';
import { type Recipient } from '@under-lock/core/locks/lock';
import { addressKey } from '@under-lock/core/people/address';
import { type DeliveryPlan, planDelivery } from '@under-lock/core/plan/plan';
import { useMemo } from 'react';
import { calendarHere } from '../handling/HandlingForm';
import { type Draft } from '../message/draft';
import { type Person, personAt } from '../people/person';
import { type Kept } from '../vault/useVault';

export interface PlanContext {
  office: Office;
  account: Account;
  people: Kept<Person>[];
  colleagues: readonly { name: string; address: string; phone?: string | undefined }[];
  now: Date;
}

export function makePlan(draft: Draft, { office, account, people, colleagues, now }: PlanContext): DeliveryPlan {
  const recipients = draft.recipients.map(({ name, address, role, check: chosen }): Recipient => {
    const person = personAt(people, address)?.value;
    const check = chosen ?? person?.check;
    return {
      address,
      role,
      name: name || (person?.name ?? ''),
      ...(person?.phone === undefined ? {} : { phone: person.phone }),
      ...(person?.secondAddress === undefined ? {} : { secondAddress: person.secondAddress }),
      ...(check === undefined ? {} : { check }),
    };
  });
  return planDelivery(
    {
      recipients,
      handling: { check: draft.check, rights: draft.rights, closing: resolveClosing(draft.closing, now, calendarHere(office)) },
      subject: draft.subject,
      text: draft.text,
      fileSizes: draft.files.map(({ size }) => size),
      limits: office.limits,
      context: {
        sender: { address: account.address, addresses: [], phones: account.phone === undefined ? [] : [account.phone] },
        others: [
          ...people.map(({ value }) => ({ name: value.name, address: value.address, ...(value.phone === undefined ? {} : { phone: value.phone }), ...(value.secondAddress === undefined ? {} : { secondAddress: value.secondAddress }) })),
          ...colleagues.filter((one) => addressKey(one.address) !== addressKey(account.address)).map(({ name, address, phone }) => ({ name, address, ...(phone === undefined ? {} : { phone }) })),
        ],
      },
    },
    lockKinds,
  );
}

export function usePlan(draft: Draft | undefined, context: Partial<PlanContext>): DeliveryPlan | undefined {
  const { office, account, people, colleagues, now } = context;
  return useMemo(
    () => (draft === undefined || office === undefined || account === undefined || people === undefined || colleagues === undefined || now === undefined ? undefined : makePlan(draft, { office, account, people, colleagues, now })),
    [draft, office, account, people, colleagues, now],
  );
}
