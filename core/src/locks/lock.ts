/**
 * What every lock answers. A new lock is a new folder beside `room/` and one line in `index.ts`; nothing outside its
 * folder knows more about it.
 */
import { type Bytes } from '../bytes';
import { type HandlingTerms, type IdentityCheck, type Right, type WayKnown } from '../handling/handling';
import { type AnswerLeak } from '../identity/answer';
import { type Language } from '../people/language';
import { type RecipientRole } from '../people/role';
import { type MessageContent } from '../message/content';
import { type PasswordPlace } from '../passwords/place';
import { type FileWay } from './file/way';
import { type ContentKey } from './room/content';
import { type SplitKey } from './room/grant';

export const LOCKS = ['room', 'carried', 'certificate', 'openpgp', 'file'] as const;
/** Those that send a copy to stay with its reader. */
export const COPY_LOCKS = ['certificate', 'openpgp', 'file'] as const;
export type CopyLock = (typeof COPY_LOCKS)[number];
export type LockName = (typeof LOCKS)[number];
/** Whether it is read in the reading room, by an access that closes and can be withdrawn. */
export const isRead = (lock: LockName): boolean => lock === 'room' || lock === 'carried';

/** One person written to, as far as locks care. */
export interface Recipient {
  name: string;
  address: string;
  role: RecipientRole;
  language?: Language;
  /** E.164. */
  phone?: string;
  secondAddress?: string;
  /** The worker's choice for this person; the handling's otherwise, or the password of who has one that is enough. */
  check?: IdentityCheck | 'password';
  /** The shared question, where one is asked, and what this person will know. */
  question?: string;
  answer?: string;
  /** Their certificate for encrypting, judged for their address; undefined when none is known. */
  certificate?: KnownMeans;
  /** Their OpenPGP key, likewise. */
  openpgp?: KnownMeans & { /** Their program reads the newest packets. */ readsNewest: boolean };
  /** How they get locked files, and what is known of the password. */
  file?: KnownFileWay;
  /** The lock the worker chose for this person, where there is a choice. */
  lock?: LockName;
  /**
   * A colleague: known by their sign-in, written to under their account's public key. Not `ready` until they have
   * signed in once.
   */
  colleague?: { ready: boolean; /** Their key is another one than before. */ changed?: boolean };
  /** A registered reader, and the strongest check they have passed. */
  registered?: { knownBy?: IdentityCheck };
}

/** Something of theirs that can be encrypted to, as far as the plan cares. */
export interface KnownMeans {
  level: 'valid' | 'unchecked' | 'stop';
  /** When it runs out before the closing date. */ runsOut?: Date;
}

export interface KnownFileWay {
  way: FileWay;
  /** `told`: they have it already. */
  password?: { weak: boolean; standsIn?: PasswordPlace; told: boolean };
  /** The office lets the legacy cipher be used. */
  legacyAllowed: boolean;
  /** Octets of files that their gateway takes. */
  largest?: number;
}

/** What the worker wants, before it is known when exactly the message goes. */
export interface PlannedHandling extends HandlingTerms {
  /** What nobody's check may be weaker than; between this and `check` the worker may choose for one person. */
  leastCheck: IdentityCheck;
}

export interface AssessmentContext {
  /** Everything the recipient will read, to notice an answer that stands in it. */
  message: string;
  fileCount: number;
  /** Octets of all files. */
  size: number;
  sender: {
    address: string;
    /** Has a certificate to sign with now. */ signs: boolean;
    /** Has an OpenPGP key to sign with now. */ signsOpenPgp: boolean;
    phones: readonly string[];
    addresses: readonly string[];
  };
  /** Some of those who get an OpenPGP copy read the newest packets, and some don't: then nobody gets them. */
  mixedOpenPgp?: boolean;
  /** Other people the worker knows, to notice a number or address that is somebody else's. */
  others: readonly { name: string; address: string; phone?: string; secondAddress?: string }[];
}

/** What must be put right before sending. Codes with parameters; words are made where they are shown. */
export type Missing =
  | { code: 'phone-missing' }
  | { code: 'phone-is-yours' }
  | { code: 'second-address-missing' }
  | { code: 'second-address-is-the-same' }
  | { code: 'second-address-is-yours' }
  | { code: 'question-missing' }
  | { code: 'answer-missing' }
  | { code: 'answer-too-short' }
  | { code: 'staff-only' }
  | { code: 'outsiders-only' }
  | { code: 'nobody-allowed' }
  | { code: 'colleague-not-ready' }
  /** Their key is another one than when they were first written to. */
  | { code: 'colleague-key-changed' }
  | { code: 'certificate-missing' }
  | { code: 'certificate-unusable' }
  | { code: 'key-missing' }
  | { code: 'key-unusable' }
  | { code: 'copies-not-allowed' }
  | { code: 'own-key-missing' }
  | { code: 'own-certificate-missing' }
  | { code: 'password-missing' }
  | { code: 'password-weak' }
  | { code: 'password-in-mail'; place: PasswordPlace }
  | { code: 'nothing-to-lock' }
  | { code: 'text-may-not-stay-open' }
  | { code: 'legacy-not-allowed' }
  | { code: 'file-too-large'; limit: number };

/** What the worker should look at, and may send all the same. */
export type Warning =
  | { code: 'phone-of-another'; name: string }
  | { code: 'second-address-of-another'; name: string }
  | { code: 'answer-stands-in'; place: AnswerLeak }
  | { code: 'certificate-unchecked' }
  | { code: 'certificate-runs-out'; at: Date }
  | { code: 'key-unchecked' }
  | { code: 'key-runs-out'; at: Date }
  | { code: 'older-format' }
  | { code: 'goes-unsigned' }
  | { code: 'text-stays-open' }
  | { code: 'legacy-cipher' }
  | { code: 'names-visible' }
  | { code: 'pdf-rights-discourage' }
  | { code: 'only-packed' };

/** Why this lock. */
export type Reason =
  | { code: 'nothing-needed-at-their-end' }
  | { code: 'can-be-closed-and-withdrawn' }
  | { code: 'signed-in-here' }
  | { code: 'has-a-password' }
  | { code: 'opens-in-their-program' }
  | { code: 'stays-with-them' }
  | { code: 'signed-and-readable' }
  | { code: 'opens-with-a-password' }
  | { code: 'packed-together' }
  | { code: 'travels-as-a-file' };

export type HandlingPart = 'closing' | 'check' | Right;

export interface Assessment {
  lock: LockName;
  /** It can be chosen for this person. The room always can. */
  available: boolean;
  /** Nothing is agreed for it yet: never taken unless the worker asks for it. */
  onRequest?: true;
  /** How this person will prove who they are, when the lock asks for it. */
  check?: {
    kind: WayKnown;
    hint: string;
    question: boolean;
    /** Their password would be enough, too. */ orPassword?: boolean;
  };
  missing: Missing[];
  warnings: Warning[];
  reasons: Reason[];
  cannotHonour: HandlingPart[];
  /** Signed and not encrypted: anybody on its way can read it. */
  clear?: true;
}

/** What leaves the house. */
export interface RoomParcel {
  lock: 'room';
  /** The sealed content, one for all recipients. */
  content: Bytes;
  grants: { address: string; grantId: string; split: SplitKey }[];
}
export type Parcel = RoomParcel;

/**
 * What sealing needs besides the message: made by the caller, so that sealing the same message again gives the same
 * bytes.
 */
export interface SealingMeans {
  messageId: string;
  contentKey: ContentKey;
  newId: () => string;
}

/** What opening needs. */
export interface OpeningMeans {
  content: Uint8Array;
  key: Bytes;
}

/** What the plan asks of a lock. */
export interface PlannableLock {
  readonly lock: LockName;
  assess(recipient: Recipient, handling: PlannedHandling, context: AssessmentContext): Assessment;
}

export interface LockKind extends PlannableLock {
  seal(message: MessageContent, recipients: readonly Recipient[], means: SealingMeans): Promise<Parcel[]>;
  open(means: OpeningMeans): Promise<MessageContent>;
}
