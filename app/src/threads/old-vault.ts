import { Watched } from '../watched';

/**
 * Whether the server gave out a vault that is not as it was left. Whoever meets it says so here; the frame of the pages
 * shows it.
 */
export const oldVault = new Watched(false);
