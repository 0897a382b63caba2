/** What sending needs from where it runs: a browser with its threads, a program, a test. */
import { type Bytes } from '../bytes';
import { type Rights } from '../handling/handling';
import { type FileRules } from '../locks/file/rules';
import { type FileWay } from '../locks/file/way';
import { type OpenPgpMailForm } from '../locks/openpgp/seal';
import { type Language } from '../people/language';
import { type MessageToSeal } from './content';
import { type DispatchBody } from './dispatch';
import { type Attempt, type KeptGrant, type KeptKey, type Summary } from './draft';
import { type WantedGrant } from './wanted';

/** The share that has arrived, 0 to 1. */
export type Told = (share: number) => void;

/** Where the message's key is: its content is built, sealed and put there. */
export interface ContentPort {
  makeKey(): Promise<KeptKey>;
  fingerprint(message: MessageToSeal): Promise<string>;
  split(of: { messageId: string; subject: string }, key: KeptKey, wanted: WantedGrant[]): Promise<KeptGrant[]>;
  /** Resolves when it lies under `blobId`; what is there already is not sent again. */
  put(message: MessageToSeal, blobId: string, key: KeptKey, told: Told): Promise<void>;
  /** Ends a put that runs, or is still to begin. */
  cancel(blobId: string): Promise<void>;
  /** What was cancelled may be put again. */
  allow(blobIds: string[]): Promise<void>;
}

/** A copy to be sealed, with everything its lock asks for. */
export type CopyOrder =
  | {
      lock: 'certificate';
      /** `clear`: signed, not encrypted. */
      recipients: { certificate: Bytes; capabilities?: string[] }[] | 'clear';
      neutralSubject: string;
    }
  | { lock: 'openpgp'; recipients: Bytes[] | 'clear'; form: OpenPgpMailForm; neutralSubject: string }
  | { lock: 'file'; wanted: FileOrder };

export interface FileOrder {
  way: FileWay;
  /** Undefined where it is only packed. */
  password: string | undefined;
  recipient: { address: string; name: string };
  language: Language;
  officeName: string;
  templates: FileRules['templates'];
  storedTypes: readonly string[];
  zone: string;
  neutralSubject: string;
  rights: Rights;
  paper: 'a4' | 'letter';
}

/** Where the sender's own keys are: copies are sealed and put there. */
export interface CopyPort {
  put(order: CopyOrder, message: MessageToSeal, blobId: string, told: Told): Promise<void>;
  cancel(blobId: string): Promise<void>;
}

/** The record of what was sent. */
export interface RecordPort {
  wasSent(messageId: string): Promise<boolean>;
  discard(blobId: string): Promise<void>;
  /** Before anything leaves: with it a second try sends the same, and never twice. */
  keepAttempt(attempt: Attempt): Promise<void>;
  sealSummary(messageId: string, summary: Summary): Promise<Bytes>;
  dispatch(messageId: string, body: DispatchBody): Promise<{ sentAt: Date }>;
}

export interface SendPorts {
  content: ContentPort;
  copies: CopyPort;
  record: RecordPort;
  newId(): string;
}
