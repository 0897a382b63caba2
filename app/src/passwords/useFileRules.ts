import { getFileRules } from '@under-lock/contract/file-lock';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';

/** What the office says about locked files. */
export const useFileRules = () => useSWR('file-rules', () => api(getFileRules), { use: [told('office')] });
