/** What has to be known to plan a draft and to send it: as data, wherever it comes from. */
import { type KnownKeys } from '../account/known-keys';
import { type OfficeCalendar } from '../handling/closing';
import { type IdentityCheck } from '../handling/handling';
import { type PresetTerms } from '../handling/preset';
import { type FileRules } from '../locks/file/rules';
import { type KnownMeans } from '../locks/lock';
import { type NoticeLook } from '../notice/look';
import { type Book } from '../passwords/entry';
import { type Person } from '../people/kept-person';
import { type WithAddresses } from '../people/own-addresses';
import { type PlanInput } from '../plan/plan';
import { type Kept } from '../vault/kept';

export interface OutgoingOffice {
  name: string;
  mailDomain: string;
  calendar: OfficeCalendar;
  limits: PlanInput['limits'];
  look: NoticeLook;
}

/** Whose message it is. */
export interface Sender extends WithAddresses {
  name: string;
  phone?: string | undefined;
}

export interface AccountKey {
  suite: number;
  publicKey: Uint8Array;
}

/** Somebody of the office; without a key as long as they have not signed in. */
export interface Colleague extends WithAddresses {
  id: string;
  name: string;
  phone?: string | undefined;
  key?: AccountKey | undefined;
}

/** Who has a password in the reading room, and the strongest check they have passed. */
export interface RegisteredReader {
  id: string;
  address: string;
  knownBy?: IdentityCheck | undefined;
  key: AccountKey;
}

export interface OutgoingPreset {
  id: string;
  active: boolean;
  isDefault: boolean;
  terms: PresetTerms;
}

interface Judged {
  level: KnownMeans['level'];
  validUntil?: Date | undefined;
}

export interface JudgedCertificate {
  kept: { certificate: string; capabilities?: string[] | undefined };
  verdict: Judged;
}

export interface JudgedKey {
  kept: { key: string };
  verdict: Judged;
  readsNewest: boolean;
}

export interface Known<Preset extends OutgoingPreset = OutgoingPreset> {
  office: OutgoingOffice;
  account: Sender;
  people: readonly Kept<Person>[];
  colleagues: readonly Colleague[];
  /** Their keys when they were first written to. */
  knownKeys: KnownKeys;
  registered: readonly RegisteredReader[];
  presets: readonly Preset[];
  /** Judged for whom they are used, by the key of the address. */
  certificates: ReadonlyMap<string, JudgedCertificate>;
  keys: ReadonlyMap<string, JudgedKey>;
  /** What the sender can sign with. Asked only where the handling needs it. */
  signs: { certificate: boolean; openpgp: boolean };
  /** The sender's password book, and what the office says about locked files. */
  passwords: Book;
  fileRules: FileRules;
  now: Date;
  /** IANA time zone of the sender. */
  zone: string;
}

/** What a planned draft still needs to be sent. */
export type KnownToSend = Omit<Known, 'knownKeys' | 'presets' | 'signs'>;
