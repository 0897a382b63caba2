import { addressKey } from '@under-lock/core/people/address';
import { useMemo } from 'react';

/** Addresses as the server is asked about them: each once, in one order whoever was added first. */
export const useAddressKeys = (addresses: readonly string[]): string[] =>
  useMemo(() => [...new Set(addresses.map(addressKey))].sort(), [addresses]);
