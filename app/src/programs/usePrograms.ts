import { listDevices } from '@under-lock/contract/submission';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';

export const PROGRAMS_KEY = 'mail-programs';
/** A worker's mail programs, and what the door last saw of them. */
export const usePrograms = () =>
  useSWR(PROGRAMS_KEY, () => api(listDevices), { use: [told('account', 'vault/draft')] });
