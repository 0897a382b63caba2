/** What the office has said of what must happen, as the pages have it. */
import { getPolicy, listNewTo, putPolicyItem } from '@under-lock/contract/rules';
import { asksOfNew, type Policy, type PolicyItem } from '@under-lock/core/rules/policy';
import { useState } from 'react';
import useSWR, { mutate } from 'swr';
import { api } from '../api';
import { told } from '../live/live';
import { useAddressKeys } from '../people/useAddressKeys';

export const POLICY = 'rules';

export const usePolicy = () => useSWR(POLICY, () => api(getPolicy), { use: [told('office')] });

/** Anew, whatever an answer says that was under way before: what is shown next begins with it. */
export const refreshPolicy = (): Promise<unknown> => mutate(POLICY, api(getPolicy), { revalidate: false });

/**
 * Keeps one over the version in which it was seen; what was kept is what is gone on from.
 * @returns Throws ApiProblem `conflict`, `invalid-input`
 */
export function useKeeping({ version }: Policy): (item: PolicyItem) => Promise<void> {
  const [over, setOver] = useState(version);
  return async (item) => {
    const kept = await api(putPolicyItem, { params: { id: item.value.id }, body: { item, over } });
    setOver(kept.version);
    await refreshPolicy();
  };
}

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
