/** What sending needs from where it runs: a browser with its threads, a program, a test. */
import { type Words } from '../search/words';
import { type Bytes } from '../bytes';
import { type CopyOrder } from '../locks/index';
import { type MessageToSeal } from './content';
import { type DispatchBody } from './dispatch';
import { type Attempt, type KeptGrant, type KeptKey, type Summary } from './draft';
import { type WantedGrant } from '../locks/wanted';
import { type Paper, type SealedForRelease } from '../release/paper';
import { type Releaser } from './releasers';

/** The share that has arrived, 0 to 1. */
export type Told = (share: number) => void;

/** Where the message's key is: its content is built, sealed and put there. */
export interface ContentPort {
  makeKey(): Promise<KeptKey>;
  fingerprint(message: MessageToSeal): Promise<string>;
  split(of: { messageId: string; subject: string }, key: KeptKey, wanted: WantedGrant[]): Promise<KeptGrant[]>;
  /** Resolves when it lies under `blobId`; what is there already is not sent again. */
  put(message: MessageToSeal, blobId: string, key: KeptKey, told: Told): Promise<void>;
  /** The key for each who may let it go, and the paper under it. */
  forRelease(messageId: string, key: KeptKey, paper: Paper, releasers: readonly Releaser[]): Promise<SealedForRelease>;
  /** Ends a put that runs, or is still to begin. */
  cancel(blobId: string): Promise<void>;
  /** What was cancelled may be put again. */
  allow(blobIds: string[]): Promise<void>;
}

/** Where the sender's own keys are: copies are sealed and put there. */
export interface CopyPort {
  put(order: CopyOrder, message: MessageToSeal, blobId: string, told: Told): Promise<void>;
  /** The mail as it was handed in; only where mail programs hand it in. */
  putAsItCame?(message: MessageToSeal, blobId: string, told: Told): Promise<void>;
  cancel(blobId: string): Promise<void>;
}

/** The record of what was sent. */
export interface RecordPort {
  wasSent(messageId: string): Promise<boolean>;
  discard(blobId: string): Promise<void>;
  /** Before anything leaves: with it a second try sends the same, and never twice. */
  keepAttempt(attempt: Attempt): Promise<void>;
  sealSummary(messageId: string, summary: Summary): Promise<Bytes>;
  sealWords(messageId: string, words: Words): Promise<Bytes>;
  /** Without a time it waits for somebody else to let it go. */
  dispatch(messageId: string, body: DispatchBody): Promise<{ sentAt?: Date | undefined }>;
}

export interface SendPorts {
  content: ContentPort;
  copies: CopyPort;
  record: RecordPort;
  newId(): string;
}
