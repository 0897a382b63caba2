/** What readers chose goes into the office book by itself, in the browser of whoever is in it. Nothing is shown. */
import { useEffect } from 'react';
import useSWR from 'swr';
import { told } from '../live/live';
import { useOpenSession } from '../session/session';
import { isIn, takeChoices, useBookStand, waitingChoices } from './useBook';

export function TakenChoices() {
  const { account } = useOpenSession();
  const { data: stand } = useBookStand();
  const { data } = useSWR(isIn(stand) ? 'choices' : null, waitingChoices, {
    use: [told('office')],
    revalidateOnFocus: false,
  });
  useEffect(() => {
    // What could not be taken now stays, and is tried with the next change.
    if (data !== undefined && data.length > 0)
      takeChoices(data, { id: account.id, name: account.name }).catch(() => undefined);
  }, [data, account.id, account.name]);
  return null;
}
