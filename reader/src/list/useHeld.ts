/**
 * The list by pages, and a search that reads on through it: subjects are sealed, so only this browser can look into
 * them.
 */
import { type HeldSort } from '@under-lock/contract/registered';
import { useEffect } from 'react';
import useSWRInfinite from 'swr/infinite';
import { type Held, heldPage, type HeldPage, type Session } from './account';

/** Whoever comes back to the page is answered at once. */
export const ASKED_AGAIN_MS = 60_000;

/** As far as a search reads on by itself. */
const SEARCHED_PAGES = 70;

const plain = (text: string): string => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
const fits = (item: Held, wanted: string): boolean =>
  [item.subject ?? '', item.from.name, item.from.address, item.reference].some((text) => plain(text).includes(wanted));

export function useHeld(
  session: Session,
  { sort, sender, search }: { sort: HeldSort; sender: string; search: string },
) {
  const {
    data: pages,
    error,
    size,
    setSize,
    isValidating,
    mutate,
  } = useSWRInfinite<HeldPage, unknown>(
    (index: number, before: HeldPage | null) =>
      index > 0 && before?.next === undefined ? null : ['held', session.reader.id, sort, sender, before?.next ?? ''],
    ([, , , , after]: string[]) =>
      heldPage(session, { sort, ...(sender === '' ? {} : { sender }), ...(after === '' ? {} : { after: after! }) }),
    { refreshInterval: ASKED_AGAIN_MS, keepPreviousData: true, revalidateFirstPage: true, revalidateOnMount: true },
  );
  const items = pages?.flatMap((page) => page.items);
  const more = pages?.at(-1)?.next !== undefined;
  const wanted = plain(search.trim());
  const loading = pages !== undefined && pages.length < size;
  useEffect(() => {
    if (wanted !== '' && more && !loading && size < SEARCHED_PAGES) void setSize(size + 1);
  }, [wanted, more, loading, size, setSize]);
  const first = pages?.[0];
  return {
    items,
    more,
    error,
    found: wanted === '' ? items : items?.filter((item) => fits(item, wanted)),
    searched: wanted === '' ? undefined : items?.length,
    senders: first?.senders,
    unread: first?.unread,
    maxBytes: first?.maxBytes,
    busy: isValidating,
    showMore: () => void setSize(size + 1),
    refresh: () => void mutate(),
  };
}
