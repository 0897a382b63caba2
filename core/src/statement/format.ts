/** What a statement says. Its signing and checking are apart: the office's pages ask for neither. */
export const STATEMENT_FORMAT = 'under-lock/statement/2';
/** Of the time before, when it said more than a server can know: still checked, never made. */
export const OLDER_STATEMENT_FORMAT = 'under-lock/statement/1';

export interface StatedAccess {
  id: string;
  reader: { name: string; address: string };
  state: 'withdrawn' | 'closed';
  /** ISO 8601, like every instant here. */
  endedAt: string;
  /** What this person saw of the message, over all accesses they ever had to it. */
  opened: { count: number; first?: string | undefined; last?: string | undefined };
  /** House share and wrapped key are in no record any more: the office's server can't give them out. */
  given: false;
  /** Until then the office's backups may hold them, sealed under a key that lies elsewhere. */
  backupsUntil: string;
}

export interface Statement {
  format: typeof STATEMENT_FORMAT;
  id: string;
  madeAt: string;
  office: { name: string; domain: string };
  message: {
    id: string;
    reference: string;
    sentAt: string;
    sender: { name: string; address: string };
    /** SHA-256 of the sealed content, hex, while it is kept. */
    contentSha256?: string | undefined;
  };
  ended: StatedAccess[];
  /** Accesses to the same message that can still be used. */
  stillOpen: number;
}

/** A P-256 public key as a JSON Web Key (RFC 7517, RFC 7518 §6.2). */
export interface StatementKey {
  kty: 'EC';
  crv: 'P-256';
  x: string;
  y: string;
}

export interface StatementFile {
  statement: Statement;
  jws: string;
  key: StatementKey;
}
