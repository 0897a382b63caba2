import { getOffice } from '@under-lock/contract/office';
import { listColleagues } from '@under-lock/contract/account';
import useSWR from 'swr';
import { api } from '../api';

export const useOffice = () => useSWR('office', () => api(getOffice), { revalidateOnFocus: false });
export const useColleagues = () =>
  useSWR('colleagues', async () => (await api(listColleagues)).colleagues, { revalidateOnFocus: false });
