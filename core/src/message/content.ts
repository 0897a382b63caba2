import { type Bytes } from '../bytes';
import { type Correspondent } from '../people/address';

export interface MessageFile {
  name: string;
  /** Media type as `type/subtype`. */
  type: string;
  bytes: Bytes;
}

/** A message before it is sealed, and after it was opened. */
export interface MessageContent {
  /** Without angle brackets. */
  messageId: string;
  from: Correspondent;
  to: Correspondent[];
  cc: Correspondent[];
  subject: string;
  date: Date;
  /** The office's own reference number; empty when there is none. */
  reference: string;
  text: string;
  /** Empty when the text says it all. Never trusted: sanitised where it is shown. */
  html: string;
  files: MessageFile[];
  /** Message-IDs of what it answers, oldest first, without angle brackets (RFC 5322 §3.6.4). */
  answers?: readonly string[];
}
