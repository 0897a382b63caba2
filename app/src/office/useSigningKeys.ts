/** The keys that the office's mail is signed with, and was. */
import { listSigningKeys } from '@under-lock/contract/office';
import useSWR from 'swr';
import { api } from '../api';

export const useSigningKeys = () => useSWR('signing-keys', () => api(listSigningKeys));
