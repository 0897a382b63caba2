/** What a lock asks to be made for those who get a message under it: accesses, or copies. */
import { type IdentityCheck } from '../handling/handling';
import { type Language } from '../language';
import { type RecipientRole } from '../people/role';
import { type AccountKey } from './known';

interface Addressed {
  address: string;
  name: string;
  role: RecipientRole;
}

export interface Asked {
  text: string;
  answer: string;
}

/** How one recipient is to be known, before anything is sealed for them. */
export type WantedReader =
  | { kind: 'link'; language?: Language; check: IdentityCheck; target?: string; question?: Asked; told?: string }
  | ({ kind: 'account'; accountId: string } & AccountKey)
  | ({ kind: 'registered'; readerId: string; language?: Language } & AccountKey);

export interface WantedGrant extends Addressed {
  /** The content travels as a file. */
  carried?: boolean;
  reader: WantedReader;
}

export interface WantedCopy<Name extends string = string> {
  lock: Name;
  /** Signed and not encrypted, or packed and not locked. */
  clear: boolean;
  /** How it is made, in its lock's own terms: plain data, kept with the attempt. */
  how?: unknown;
  recipients: Addressed[];
}
