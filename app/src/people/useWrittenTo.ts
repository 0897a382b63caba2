/** Whom the worker has written to of late. */
import { listWrittenTo } from '@under-lock/contract/outgoing';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';

/** When each address was last written to; empty until that is known. */
export function useWrittenTo(): ReadonlyMap<string, Date> {
  const { data } = useSWR(
    'written-to',
    async () => new Map((await api(listWrittenTo)).people.map(({ address, at }) => [address, at])),
    { use: [told('sent')] },
  );
  return data ?? NOBODY;
}

const NOBODY: ReadonlyMap<string, Date> = new Map();
