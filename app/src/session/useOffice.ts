import { getOffice } from '@under-lock/contract/office';
import { type Account, listColleagues } from '@under-lock/contract/account';
import { type Reply } from '@under-lock/contract/client';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';

export const useOffice = () =>
  useSWR('office', () => api(getOffice), { use: [told('office')], revalidateOnFocus: false });
/** Every department that anybody here has, each once. */
export const departmentsOf = (colleagues: readonly Pick<Account, 'departments'>[]): string[] =>
  [...new Set(colleagues.flatMap(({ departments }) => departments))].sort();

export type Colleague = Reply<typeof listColleagues>['colleagues'][number];

export const useColleagues = () =>
  useSWR('colleagues', async () => (await api(listColleagues)).colleagues, {
    use: [told('office')],
    revalidateOnFocus: false,
  });
