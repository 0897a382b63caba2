/** The locked file as the plan sees it; sealing and opening are in the files beside. */
import { type PlannableLock } from '../lock';
import { assessFile } from './assess';

export const fileLock: PlannableLock = { lock: 'file', assess: assessFile };
