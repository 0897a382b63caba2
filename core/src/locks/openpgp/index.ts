/** The OpenPGP lock as the plan sees it; sealing and opening are in the files beside. */
import { type PlannableLock } from '../lock';
import { assessOpenPgp } from './assess';

export const openPgpLock: PlannableLock = { lock: 'openpgp', assess: assessOpenPgp };
