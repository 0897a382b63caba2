/**
 * Where several certificates could serve one address: which one signs what leaves from it, and which one others encrypt
 * to. Per address and use one at most is chosen; without a choice the newest serves.
 */
import { addressKey } from '@under-lock/core/people/address';
import { type CertificateView } from './certificate-view';
import { isChosen } from '@under-lock/core/certificate/kept-key';
import { type OwnKey } from './own-key';

export type KeyUse = 'sign' | 'encrypt';
export type Chosen = NonNullable<OwnKey['chosen']>;
export interface Candidate {
  id: string;
  chosen?: Chosen | undefined;
  view: Pick<CertificateView, 'addresses' | 'uses'>;
}

const NONE: Chosen = { sign: [], encrypt: [] };
const serves = ({ view }: Candidate, address: string, use: KeyUse): boolean =>
  view.uses[use] && view.addresses.some((one) => addressKey(one) === addressKey(address));

export interface ChoiceHere {
  address: string;
  use: KeyUse;
  chosen: boolean;
}

/** What there is to choose on this certificate's page: everything it shares with another one that can be used. */
export function choicesOf(own: Candidate, others: readonly Candidate[]): ChoiceHere[] {
  return own.view.addresses.flatMap((address) =>
    (['sign', 'encrypt'] as const)
      .filter(
        (use) => serves(own, address, use) && others.some((one) => one.id !== own.id && serves(one, address, use)),
      )
      .map((use) => ({ address, use, chosen: isChosen(own.chosen, address, use) })),
  );
}

const without = (chosen: Chosen, address: string, use: KeyUse): Chosen => ({
  ...chosen,
  [use]: chosen[use].filter((one) => one !== addressKey(address)),
});

/** What changes, by key, when this one is chosen for an address and a use: the others lose it. */
export function choose(
  own: Candidate,
  others: readonly Candidate[],
  address: string,
  use: KeyUse,
): { id: string; chosen: Chosen }[] {
  const losing = others
    .filter((one) => one.id !== own.id && isChosen(one.chosen, address, use))
    .map(({ id, chosen = NONE }) => ({ id, chosen: without(chosen, address, use) }));
  const before = without(own.chosen ?? NONE, address, use);
  return [...losing, { id: own.id, chosen: { ...before, [use]: [...before[use], addressKey(address)] } }];
}
