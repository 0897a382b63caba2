/** What a statement says. Its signing and checking are apart: the office's pages ask for neither. */
export const STATEMENT_FORMAT = 'under-lock/statement/2';
/** Of the time before, when it said more than a server can know: still checked, never made. */
export const OLDER_STATEMENT_FORMAT = 'under-lock/statement/1';

export const DELIVERY_FORMAT = 'under-lock/delivery/1';

type Named = { name: string; address: string };

/** Which message a statement is about. */
export interface StatedMessage {
  id: string;
  reference: string;
  sentAt: string;
  sender: Named;
  /** SHA-256 of the sealed content, hex, while it is kept. */
  contentSha256?: string | undefined;
}

interface Stated {
  id: string;
  madeAt: string;
  office: { name: string; domain: string };
  message: StatedMessage;
}

/** What one person saw of the message, over all accesses they ever had to it. */
export interface StatedOpening {
  count: number;
  first?: string | undefined;
  last?: string | undefined;
}

export interface StatedAccess {
  id: string;
  reader: Named;
  state: 'withdrawn' | 'closed';
  /** ISO 8601, like every instant here. */
  endedAt: string;
  opened: StatedOpening;
  /** House share and wrapped key are in no record any more: the office's server can't give them out. */
  given: false;
  /** Until then the office's backups may hold them, sealed under a key that lies elsewhere. */
  backupsUntil: string;
}

export interface Statement extends Stated {
  format: typeof STATEMENT_FORMAT;
  ended: StatedAccess[];
  /** Accesses to the same message that can still be used. */
  stillOpen: number;
}

/** How an answer of the reader's mail host, or none yet, is called. */
export type StatedTelling = 'waiting' | 'accepted' | 'junk' | 'refused' | 'bounced';

/** One person's way to a held message, and what came of it. */
export interface DeliveredAccess {
  id: string;
  reader: Named;
  /** A colleague sees it in the office's own list; nobody writes them a notice. */
  told: { kind: 'notice' | 'list'; state: StatedTelling; at?: string | undefined; answer?: string | undefined };
  /** What they had to pass before they could open it. */
  proof: { kind: 'text' | 'voice' | 'email' | 'question' | 'told' | 'password' | 'account'; question: boolean };
  opened: StatedOpening;
  /** They pressed that they have read it. */
  confirmedAt?: string | undefined;
  state: 'held' | 'withdrawn' | 'closed';
  /** When it closes, or when it ended. */
  until: string;
}

/** A mail of its own that left under a lock. */
export interface DeliveredCopy {
  id: string;
  reader: Named;
  lock: string;
  state: StatedTelling;
  at?: string | undefined;
  answer?: string | undefined;
}

/** Who was told of a message, how they were known, who opened it and confirmed that: as the records hold it. */
export interface DeliveryStatement extends Stated {
  format: typeof DELIVERY_FORMAT;
  accesses: DeliveredAccess[];
  copies: DeliveredCopy[];
}

export type AnyStatement = Statement | DeliveryStatement;

/** A P-256 public key as a JSON Web Key (RFC 7517, RFC 7518 §6.2). */
export interface StatementKey {
  kty: 'EC';
  crv: 'P-256';
  x: string;
  y: string;
}

export interface StatementFile<Of extends AnyStatement = Statement> {
  statement: Of;
  jws: string;
  key: StatementKey;
}
