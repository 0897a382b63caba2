/** What the address of whoever wrote is to the one who reads: known, new, or nearly one that is known. */
import { type Doubt, doubtsIn } from '@under-lock/core/doubts/doubts';
import { type Correspondent, hostOf, isAtDomain } from '@under-lock/core/people/address';
import { oneAt } from '@under-lock/core/people/find';
import { useMemo } from 'react';
import { knownTo } from '../people/known-to';
import { usePeople } from '../people/person';
import { useWrittenTo } from '../people/useWrittenTo';
import { useColleagues, useOffice } from '../session/useOffice';

export interface SenderHere {
  /** Neither kept nor ever written to. */
  isNew: boolean;
  /** In a sentence; nothing where it is near to none. */
  looksLike?: string;
}
const NOTHING: SenderHere = { isNew: false };

function sentenceOf(doubt: Doubt | undefined): string | undefined {
  switch (doubt?.code) {
    case 'domain-alike':
    case 'other-ending':
      return `${hostOf(doubt.address)} is nearly ${doubt.known}, which you know, and is another one.`;
    case 'address-alike':
      return `${doubt.address} is nearly ${doubt.known}, which you know, and is another one.`;
    case 'private-mailbox':
      return `${doubt.address} has the name of your colleague ${doubt.colleague}, and is not an address of the office.`;
    default:
      return undefined;
  }
}

/** @param from Nobody, where it is not an address that says who it is. */
export function useSender(from: Correspondent | undefined): SenderHere {
  const { data: people } = usePeople();
  const { data: colleagues } = useColleagues();
  const { data: office } = useOffice();
  const writtenTo = useWrittenTo();
  return useMemo(() => {
    if (from === undefined || from.address === '' || people === undefined) return NOTHING;
    if (colleagues === undefined || office === undefined) return NOTHING;
    const known = knownTo(people, writtenTo);
    const isKnown =
      oneAt([...known, ...colleagues], from.address) !== undefined || isAtDomain(from.address, office.mailDomain);
    if (isKnown) return NOTHING;
    const { mailDomain } = office;
    const [doubt] = doubtsIn({
      recipients: [from],
      known,
      colleagues,
      mailDomain,
      subject: '',
      text: '',
      files: [],
      isAnswer: false,
      together: undefined,
    });
    const looksLike = sentenceOf(doubt);
    return { isNew: true, ...(looksLike === undefined ? {} : { looksLike }) };
  }, [from, people, colleagues, office, writtenTo]);
}
