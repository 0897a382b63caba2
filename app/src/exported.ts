/**
 * Tells the office's log that something left the vault as a file. The file is saved whether or not that can be told.
 */
import { type EXPORTS, recordExport } from '@under-lock/contract/account';
import { api } from './api';

export const exported = (what: (typeof EXPORTS)[number]): void =>
  void api(recordExport, { body: { what } }).catch(() => undefined);
