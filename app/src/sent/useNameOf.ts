import { type MessageEvent, type SentMessage } from '@under-lock/contract/outgoing';
import { accountAt, oneAt } from '@under-lock/core/people/find';
import { who } from '../handling/grant-words';
import { useColleagues } from '../session/useOffice';

/** Of whom an event is: a reader, or whoever has the address that it names. */
export function useNameOf({
  grants,
  copies,
}: Pick<SentMessage, 'grants' | 'copies'>): (event: Pick<MessageEvent, 'grantId' | 'address'>) => string {
  const { data: colleagues = [] } = useColleagues();
  return ({ grantId, address }) => {
    const grant = grants.find(({ id }) => id === grantId);
    if (grant !== undefined) return who(grant);
    if (address === undefined) return 'a reader';
    return oneAt(copies, address)?.name || accountAt(colleagues, address)?.name || address;
  };
}
