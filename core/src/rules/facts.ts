/** All that a rule may ask about a message: plain data, made by whoever has the message, judged alike everywhere. */
import { type Confidence, type Kind } from '../scan/finding';

export interface RecipientFacts {
  /** Lower case, as addresses are compared. */
  address: string;
  isStaff: boolean;
  /** Nobody here has written to them before. */
  isNew: boolean;
  /** No certificate, key or agreed password of theirs is known. */
  hasNoLock: boolean;
}

export const FILE_KINDS = ['picture', 'pdf', 'office', 'archive', 'program', 'mail', 'text', 'other'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

export interface FileFacts {
  name: string;
  kind: FileKind;
  /** In octets. */
  size: number;
  isLocked: boolean;
  /** It could not be looked into, or not to its end. */
  isUnread: boolean;
}

export const PARTS = ['subject', 'text', 'names', 'files'] as const;
export type Part = (typeof PARTS)[number];

/** What the scan found, counted: of a kind, of which of its kind, how sure, and in which part. */
export interface FoundFacts {
  kind: Kind;
  of: string;
  confidence: Confidence;
  part: Part;
  count: number;
}

export interface Facts {
  sender: { address: string; departments: readonly string[] };
  recipients: readonly RecipientFacts[];
  presetId: string | undefined;
  tags: readonly string[];
  files: readonly FileFacts[];
  found: readonly FoundFacts[];
  /** What it answers or passes on. */
  answers: { as: 'reply' | 'forward'; hadLock: boolean } | undefined;
  /** Of a mail handed in by an ordinary program, names in lower case. */
  headers: Readonly<Record<string, string>>;
}
