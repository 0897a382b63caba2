/**
 * What every lock answers. A lock is a folder beside this file, its words on the screens, and one line in `list.ts`;
 * nothing outside its folder knows more about it. Codes of what is missing, warned of and reasons are each lock's own.
 */
import { type Bytes, type Flow } from '../bytes';
import { type KeptKey } from '../certificate/kept-key';
import { type HandlingTerms, type IdentityCheck, type Right, type WayKnown } from '../handling/handling';
import { type MessageContent } from '../message/content';
import { type Entity } from '../message/entity';
import { type NoticeLook } from '../notice/look';
import { type KeptOpenPgp } from '../openpgp/kept-key';
import { type PaperFonts } from '../pdf/setter';
import { type PasswordPlace } from '../passwords/place';
import { type Correspondent } from '../people/address';
import { type Language } from '../language';
import { type RecipientRole } from '../people/role';
import { type FileRules } from './file/rules';
import { type Among, type KnownToLocks } from './known';
import { type Unwrapping } from './layer';
import { type ChoiceWay } from '../ways/chose';
import { type Container, type FileWay } from '../ways/file-way';
import { type ContentKey } from './room/content';
import { type WantedCopy, type WantedGrant } from './wanted';

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
  /** The one-time password that is told to this person, where that is how they are known. */
  told?: string;
  /** Their certificate for encrypting, judged for their address; undefined when none is known. */
  certificate?: KnownMeans;
  /** Their OpenPGP key, likewise. */
  openpgp?: KnownMeans & { /** Their program reads the newest packets. */ readsNewest: boolean };
  /** How they get locked files, and what is known of the password. */
  file?: KnownFileWay;
  /** Octets of files that their mail gateway takes. */
  largest?: number;
  /** The lock that is wanted for this person, where there is a choice. */
  lock?: string;
  /** How they chose to be written to; `tooWeak` after a lesser check than this message asks. */
  chose?: { lock: ChoiceWay; at: string; tooWeak: boolean };
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
  /** Rules leave no locked file at all. */
  barred?: boolean;
  /** The password has to be one that was agreed on before. */
  agreedOnly?: boolean;
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

export type HandlingPart = 'closing' | 'check' | Right;

/** What is missing, warned of or reasoned; words are made where they are shown. */
export interface Code {
  code: string;
}

export interface AssessmentOf<Name extends string, Missing extends Code, Warning extends Code, Reason extends Code> {
  lock: Name;
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

/** Somebody of a plan who gets it under this lock. Nothing is missing for them. */
export interface ChosenLine {
  recipient: Recipient;
  chosen: Pick<AssessmentOf<string, Code, Code, Code>, 'check' | 'clear'>;
}

/** A copy as it is kept with a try at sending. */
export type KeptCopy = Omit<WantedCopy, 'recipients'> & {
  id: string;
  recipients: readonly (WantedCopy['recipients'][number] & { id: string })[];
};

/** What a lock says of itself and of those it may be used for. */
export interface LockKind<Name extends string, Missing extends Code, Warning extends Code, Reason extends Code> {
  readonly lock: Name;
  assess(
    recipient: Recipient,
    handling: PlannedHandling,
    context: AssessmentContext,
  ): AssessmentOf<Name, Missing, Warning, Reason>;
}

/** Its readers come to the one sealed content, by an access that closes and can be withdrawn. */
export interface AccessLock<Name extends string, M extends Code, W extends Code, R extends Code> extends LockKind<
  Name,
  M,
  W,
  R
> {
  readonly gives: 'access';
  /** An access for each who gets it this way. */
  want(lines: readonly ChosenLine[], among: Among): WantedGrant[];
  /** One content for all; a key seals one content and no other. */
  seal(message: MessageContent, key: ContentKey): Promise<Flow>;
  /** By its first octets, and how many there are in all. */
  recognise(start: Uint8Array, size: number): Promise<boolean>;
  open(sealed: { content: Uint8Array; key: Bytes }): Promise<MessageContent>;
}

/** It sends a copy that stays with its reader. `Order`: what one copy needs to be sealed, as plain data. */
export interface CopyLock<
  Name extends string,
  M extends Code,
  W extends Code,
  R extends Code,
  Order extends { lock: Name },
> extends LockKind<Name, M, W, R> {
  readonly gives: 'copy';
  /** Each of its mails is for one recipient. */
  readonly oneEach?: true;
  /** One mail for all who get it the same way, or one each. */
  want(lines: readonly ChosenLine[], among: Among): WantedCopy<Name>[];
  /** One of those, with what is known of its recipients. */
  order(copy: KeptCopy, about: OrderContext): Order;
  /** The mail as it leaves, RFC 5322 bytes. */
  seal(order: Order, message: MessageContent, means: SealingMeans): Promise<Bytes>;
  /** By its octets, whatever is said of it; undefined for a mail that is not under this lock. */
  recognise(mail: Entity, about: Leaving): Promise<Recognised | undefined>;
  /** How it is taken off mail that came in; without it, its mails bring files that are opened one by one. */
  unwrapping?(): Promise<Unwrapping>;
  /** What opens it, for its sender's own record. */
  remember?(copy: KeptCopy, among: Among): RememberedPassword | undefined;
}

export interface OrderContext {
  /** What an order may need of what is known to who sends. */
  known: Pick<KnownToLocks, 'office' | 'certificates' | 'keys' | 'fileRules' | 'zone'>;
  language: Language;
  /** Stands outside in the subject's place where that is locked away. */
  neutralSubject: string;
  rights: HandlingTerms['rights'];
  /** What the sender's part of the world prints on. */
  paper: 'a4' | 'letter';
}

export interface RememberedPassword {
  password: string;
  telling: FileWay['telling'];
  told: boolean;
}

/** What sealing takes from where it runs. */
export interface SealingMeans {
  /** The sender's own certificates with their keys, and OpenPGP keys, as they lie in the vault. */
  certificates(): Promise<readonly { value: KeptKey }[]>;
  openPgpKeys(): Promise<readonly { value: KeptOpenPgp }[]>;
  /** What a container is made of besides the message. `template`: the self-opening page without its content. */
  materials: { fonts(): Promise<PaperFonts>; template(): Promise<string> };
  now(): Date;
}

/** What a mail that is to leave is held against; all of it is known to who judges. */
export interface Leaving {
  sender: Correspondent;
  recipients: readonly Correspondent[];
  officeName: string;
  look: NoticeLook;
  fileRules: FileRules;
  /** The self-opening page as this server gives it out, without its content. */
  template: string;
}

/** What it keeps from those it is not for. */
export interface Recognised {
  /**
   * `all` of it; the `files`, beside a text that can be read; nothing, but its `origin` is proved; `nothing`.
   */
  keeps: 'all' | 'files' | 'origin' | 'nothing';
  /** By nothing but a cipher that is broken. */
  weak: boolean;
  /** Of each locked file. */
  containers?: readonly Container[];
}
