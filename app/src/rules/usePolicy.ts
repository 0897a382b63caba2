/** What the office has said of what must happen, as the pages have it. */
import { getPolicy, listNewTo } from '@under-lock/contract/rules';
import { asksOfNew, type Policy } from '@under-lock/core/rules/policy';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';
import { useAddressKeys } from '../people/useAddressKeys';

export const POLICY = 'rules';

export const usePolicy = () => useSWR(POLICY, () => api(getPolicy), { use: [told('office')] });

const NOBODY: ReadonlySet<string> = new Set();

/**
 * Whom of these the worker has never written to; asked only where a rule wants to know. Undefined until it is known.
 */
export function useNewTo(policy: Policy | undefined, addresses: readonly string[]): ReadonlySet<string> | undefined {
  const keys = useAddressKeys(addresses);
  const isAsked = policy !== undefined && keys.length > 0 && asksOfNew(policy);
  const { data } = useSWR(
    isAsked ? ['new-to', ...keys] : null,
    async () => new Set((await api(listNewTo, { body: { addresses: keys } })).addresses),
    { use: [told('sent')], keepPreviousData: false },
  );
  return isAsked ? data : policy === undefined ? undefined : NOBODY;
}
