/** What has to be known to plan a draft and to send it: as data, wherever it comes from. */
import { type LockBefore } from './as-it-came';
import { type KnownKeys } from '../account/known-keys';
import { type OfficeCalendar } from '../handling/closing-choice';
import { type PresetTerms } from '../handling/preset';
import { type KnownToLocks } from '../locks/known';
import { type NoticeLook } from '../notice/look';
import { type WithAddresses } from '../people/own-addresses';
import { type PlanInput } from './delivery-plan';
import { type KnownOfRules } from './ruled';

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

export interface OutgoingPreset {
  id: string;
  active: boolean;
  isDefault: boolean;
  /** It is another department's: known, because rules may ask for it, and not to be chosen. */
  others?: boolean | undefined;
  terms: PresetTerms;
}

export interface Known<Preset extends OutgoingPreset = OutgoingPreset> extends KnownToLocks {
  office: OutgoingOffice;
  account: Sender;
  /** Their keys when they were first written to. */
  knownKeys: KnownKeys;
  presets: readonly Preset[];
  /** The office's rules, and what they ask about of this draft. */
  rules?: KnownOfRules | undefined;
  /** What the sender can sign with. Asked only where the handling needs it. */
  signs: { certificate: boolean; openpgp: boolean };
  /** It leaves octet for octet as a mail program made it: under the lock it has already, or open. */
  asItCame?: LockBefore | 'open' | undefined;
  /** A mail program made it, and where the office lets that be, its text stays readable beside its locked files. */
  textStays?: boolean | undefined;
  now: Date;
}

/** What a planned draft still needs to be sent. */
export type KnownToSend = Omit<Known, 'knownKeys' | 'presets' | 'signs'>;
