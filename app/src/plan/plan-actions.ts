import { type LockName } from '@under-lock/core/locks/lock';
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { type ReactNode } from 'react';

/** What can be settled on a recipient's line. */
export interface PlanActions {
  setPhone(address: string, phone: string): Promise<void>;
  setSecondAddress(address: string, second: string): Promise<void>;
  setCheck(address: string, check: IdentityCheck | 'password'): void;
  setQuestion(address: string, change: { question?: string; answer?: string }): void;
  setLock(address: string, lock: LockName): void;
  /** The way to a certificate of theirs. */
  askSigned(address: string): ReactNode;
  remove(address: string): void;
}
