/** What readers chose goes into the office book by itself, in the browser of whoever is in it. Nothing is shown. */
import { listChoices } from '@under-lock/contract/choice';
import { useEffect } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';
import { useOpenSession } from '../session/session';
import { isIn, takeChoices, useBookStand } from './useBook';

export function TakenChoices() {
  const { account } = useOpenSession();
  const { data: stand } = useBookStand();
  const { data } = useSWR(isIn(stand) ? 'choices' : null, async () => (await api(listChoices)).choices, {
    use: [told('office')],
    revalidateOnFocus: false,
  });
  useEffect(() => {
    // What could not be taken now stays, and is tried with the next change.
    if (data !== undefined && data.length > 0)
      takeChoices({ id: account.id, name: account.name }).catch(() => undefined);
  }, [data, account.id, account.name]);
  return null;
}
