/** Who of those that are written to was written to together with others of them before. */
import { listTogether } from '@under-lock/contract/outgoing';
import { LEAST_TOGETHER } from '@under-lock/core/doubts/doubts';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';
import { useAddressKeys } from './useAddressKeys';

/** By the keys of their addresses; undefined until it is known, and where they are too few to be asked about. */
export function useTogether(addresses: readonly string[]): ReadonlySet<string> | undefined {
  const keys = useAddressKeys(addresses);
  const { data } = useSWR(
    keys.length < LEAST_TOGETHER ? null : ['together', ...keys],
    async () => new Set((await api(listTogether, { body: { addresses: keys } })).addresses),
    { use: [told('sent')], keepPreviousData: false },
  );
  return data;
}
