/** Which of the people written to have a password of their own here. */
import { findRegistered, type Registered } from '@under-lock/contract/registered';
import { checkAddress } from '@under-lock/core/people/address';
import { useMemo } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { useAddressKeys } from './useAddressKeys';

const nobody: readonly Registered[] = [];

/**
 * The page stands meanwhile, and the plan fills in when it is known; `asking` until then. `checking` also while what was
 * known from before is looked up anew: somebody may have forgotten their password since.
 */
export function useRegistered(addresses: readonly string[]): {
  readers: readonly Registered[];
  asking: boolean;
  checking: boolean;
} {
  const known = useAddressKeys(useMemo(() => addresses.filter((address) => checkAddress(address).ok), [addresses]));
  const { data, isLoading, isValidating } = useSWR(
    known.length === 0 ? null : ['registered', ...known],
    async () => (await api(findRegistered, { body: { addresses: known } })).readers,
    { keepPreviousData: true },
  );
  return { readers: known.length === 0 ? nobody : (data ?? nobody), asking: isLoading, checking: isValidating };
}
