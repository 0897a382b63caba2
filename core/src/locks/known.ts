/** What locks may ask of those who are written to and of the office: as data, wherever it comes from. */
import { type IdentityCheck } from '../handling/handling';
import { type FirmLocks } from '../office-book/firm';
import { type Book, type DraftPassword } from '../passwords/entry';
import { type Person } from '../people/kept-person';
import { type WithAddresses } from '../people/own-addresses';
import { type Kept } from '../vault/kept';
import { type FileRules } from './file/rules';
import { type AllowedWays, type RuledWay, type Scope } from '../ways/file-way';

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
  /** Lets messages go that others wrote. */
  mayRelease?: boolean | undefined;
}

/** Who has a password in the reading room, and the strongest check they have passed. */
export interface RegisteredReader {
  id: string;
  address: string;
  knownBy?: IdentityCheck | undefined;
  key: AccountKey;
}

interface Judged {
  level: 'valid' | 'unchecked' | 'stop';
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

export interface KnownToLocks {
  office: { name: string };
  people: readonly Kept<Person>[];
  colleagues: readonly Colleague[];
  registered: readonly RegisteredReader[];
  /** Judged for whom they are used, by the key of the address. */
  certificates: ReadonlyMap<string, JudgedCertificate>;
  keys: ReadonlyMap<string, JudgedKey>;
  /** The sender's password book, and what the office says about locked files. */
  passwords: Book;
  fileRules: FileRules;
  /** The lock the office has chosen for a firm's people, by domain. */
  firms?: FirmLocks | undefined;
  /** IANA time zone of the sender. */
  zone: string;
}

/** What was settled for one recipient in this message alone. */
export interface SettledHere {
  address: string;
  scope?: Scope | undefined;
  password?: DraftPassword | undefined;
  ruledWay?: RuledWay | undefined;
}

/** Among whom accesses and copies are wanted. */
export type Among = Pick<KnownToLocks, 'people' | 'colleagues' | 'registered' | 'passwords' | 'fileRules'> & {
  settled: readonly SettledHere[];
  /** How rules let locked files be made. */
  allowedWays: AllowedWays;
};
