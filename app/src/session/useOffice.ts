import { getOffice } from '@under-lock/contract/office';
import { listColleagues } from '@under-lock/contract/account';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';

export const useOffice = () =>
  useSWR('office', () => api(getOffice), { use: [told('office')], revalidateOnFocus: false });
export const useColleagues = () =>
  useSWR('colleagues', async () => (await api(listColleagues)).colleagues, {
    use: [told('office')],
    revalidateOnFocus: false,
  });
