/** The certificate lock (S/MIME) as the plan sees it; sealing and unwrapping are in the files beside. */
import { type PlannableLock } from '../lock';
import { assessCertificate } from './assess';

export const certificateLock: PlannableLock = { lock: 'certificate', assess: assessCertificate };
