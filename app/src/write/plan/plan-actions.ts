import { type Scope } from '@under-lock/core/ways/file-way';
import { type LockName } from '@under-lock/core/locks/index';
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { type ReactNode } from 'react';
import { type ChosenPassword } from '../../passwords/PasswordForm';

/** What can be settled on a recipient's line. */
export interface PlanActions {
  setPhone(address: string, phone: string): Promise<void>;
  setSecondAddress(address: string, second: string): Promise<void>;
  setCheck(address: string, check: IdentityCheck | 'password'): void;
  setQuestion(address: string, change: { question?: string; answer?: string }): void;
  setLock(address: string, lock: LockName): void;
  /** What is locked for this person in this message. */
  setScope(address: string, scope: Scope): void;
  /** Takes a password for this person, into the book or for this message alone. */
  usePassword(address: string, chosen: ChosenPassword): Promise<void>;
  /** The one their locked file opens with, when there is one. */
  passwordOf(address: string): string | undefined;
  /** What the office asks of a password, as a logarithm to base 10. */
  leastGuesses: number;
  /** The way to a certificate of theirs. */
  askSigned(address: string): ReactNode;
  /** A colleague's key that is another one than before. */
  takeNewKey(address: string): Promise<void>;
  remove(address: string): void;
}
