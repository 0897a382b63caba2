import { listPresets } from '@under-lock/contract/handling';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';

/** The office's handling presets, in its order; administrators also see those that are switched off. */
export const usePresets = () =>
  useSWR('presets', async () => (await api(listPresets)).presets, { use: [told('office')] });
