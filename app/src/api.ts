/** The one client of the office's application. */
import { createClient } from '@under-lock/contract/client';

export const api = createClient(typeof window === 'undefined' ? '' : window.location.origin);
