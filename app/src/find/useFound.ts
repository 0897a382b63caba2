/** What is found, as it is being looked for: the index is brought up to date meanwhile. */
import { findByState } from '@under-lock/contract/search';
import { type Found, type SearchRecord } from '@under-lock/core/search/scan';
import { useEffect, useState } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';
import { callback, searchDoor } from '../threads/search/door';
import { type Asked, betweenOf } from './asked';

const DAY = 86_400_000;

const asksServer = ({ states, closing, locks }: Asked): boolean => states.length > 0 || closing || locks.length > 0;

const kindsOf = ({ side }: Asked): SearchRecord['kind'][] | undefined =>
  side === 'sent' ? ['sent'] : side === 'received' ? ['held', 'mail'] : undefined;

/** Which messages are as the filters about state say; undefined where none is set. */
async function idsFor({ states, closing, locks }: Asked): Promise<ReadonlySet<string>> {
  const { ids } = await api(findByState, {
    query: {
      ...(states.length === 0 ? {} : { states: [...states] }),
      ...(locks.length === 0 ? {} : { locks: [...locks] }),
      ...(closing ? { closingBefore: new Date(Date.now() + 7 * DAY) } : {}),
    },
  });
  return new Set(ids);
}

/** Grows as the index does, so that what is asked is asked again. */
function useRenewedIndex(): { version: number; busy: boolean; error: unknown } {
  const [version, setVersion] = useState(0);
  const [busy, setBusy] = useState(true);
  const [error, setError] = useState<unknown>();
  useEffect(() => {
    let gone = false;
    const more = (): void => void (gone || setVersion((before) => before + 1));
    searchDoor()
      .renew(callback(more))
      // One that was under way for somebody else has told them alone.
      .then(more)
      .catch((problem: unknown) => void (gone || setError(problem)))
      .finally(() => void (gone || setBusy(false)));
    return () => {
      gone = true;
    };
  }, []);
  return { version, busy, error };
}

export interface Finding {
  found: Found | undefined;
  /** More may be found in a moment. */
  busy: boolean;
  error: unknown;
}

export function useFound(asked: Asked, limit: number): Finding {
  const { version, busy, error } = useRenewedIndex();
  const filters = asksServer(asked) ? ['state', asked.states.join(), asked.locks.join(), asked.closing] : null;
  const { data: ids, error: stateError } = useSWR(filters, () => idsFor(asked), { use: [told('sent')] });
  const ready = filters === null || ids !== undefined;
  const { data: found, error: findError } = useSWR(
    ready ? ['found', asked, limit, version, ids] : null,
    () =>
      searchDoor().find(
        {
          query: asked.query,
          kinds: kindsOf(asked),
          person: asked.who,
          ...betweenOf(asked, Date.now()),
          ...(filters === null ? {} : { ids }),
        },
        { offset: 0, limit },
      ),
    { keepPreviousData: true, revalidateOnFocus: false, dedupingInterval: 0 },
  );
  return { found, busy: busy || found === undefined, error: error ?? stateError ?? findError };
}
