/**
 * The rows as Sequelize sees them. Their rules stand in the migrations; a withdrawn grant without its share is the
 * database's own constraint.
 */
import { type RecipientRole } from '@under-lock/core/people/role';
import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  Model,
  type Sequelize,
} from 'sequelize';
import { type ToldLeft } from '@under-lock/contract/submission';
import { type EventKind, type GrantState, type NoticeState } from '@under-lock/contract/outgoing';
import { type HandlingTerms, type IdentityCheck, type WayKnown } from '@under-lock/core/handling/handling';
import { type Language } from '@under-lock/core/language';
import { type PresetTerms } from '@under-lock/core/handling/preset';
import { type ContentFacts } from '@under-lock/core/rules/facts';

const { UUID, TEXT, DATE, BLOB, INTEGER, BIGINT, JSONB, BOOLEAN } = DataTypes;
// A fresh object each time: Sequelize writes the column's name into it.
const key = () => ({ type: UUID, primaryKey: true });
const required = <T>(type: T): { type: T; allowNull: false } => ({ type, allowNull: false });

export interface StoredHashing {
  salt: string;
  memoryKiB: number;
  iterations: number;
  parallelism: number;
}

export class AccountRow extends Model<InferAttributes<AccountRow>, InferCreationAttributes<AccountRow>> {
  declare id: string;
  declare address: string;
  declare addressKey: string;
  declare name: string;
  declare title: string;
  declare phone: CreationOptional<string | null>;
  declare role: 'worker' | 'administrator';
  declare hashing: CreationOptional<StoredHashing | null>;
  declare authHash: CreationOptional<string | null>;
  declare wrappedSecret: CreationOptional<Buffer | null>;
  declare recoveryAuthHash: CreationOptional<string | null>;
  declare recoveryWrappedSecret: CreationOptional<Buffer | null>;
  declare invitationHash: CreationOptional<Buffer | null>;
  declare invitationUntil: CreationOptional<Date | null>;
  declare createdAt: Date;
  /** Since then it is nobody's to use. */
  declare endedAt: CreationOptional<Date | null>;
  /** Further addresses, as {@link addressKey} has them. */
  declare further: CreationOptional<string[]>;
  declare departments: CreationOptional<string[]>;
  declare mayRelease: CreationOptional<boolean>;
  declare toldByMail: CreationOptional<boolean>;
  declare toldAddress: CreationOptional<string | null>;
  declare toldLeft: CreationOptional<ToldLeft>;
  declare publicKey: CreationOptional<Buffer | null>;
  declare keySuite: CreationOptional<number | null>;
}

export class SessionRow extends Model<InferAttributes<SessionRow>, InferCreationAttributes<SessionRow>> {
  declare id: string;
  declare tokenHash: Buffer;
  declare accountId: string;
  declare device: string;
  declare createdAt: Date;
  declare lastSeenAt: Date;
}

export class VaultItemRow extends Model<InferAttributes<VaultItemRow>, InferCreationAttributes<VaultItemRow>> {
  declare accountId: string;
  declare kind: string;
  declare id: string;
  declare revision: number;
  declare updatedAt: Date;
  declare sealed: Buffer;
}

export class BlobRow extends Model<InferAttributes<BlobRow>, InferCreationAttributes<BlobRow>> {
  declare id: string;
  declare accountId: string;
  declare size: string | number;
  declare createdAt: Date;
  declare grantId: CreationOptional<string | null>;
  /** Of what somebody has begun to leave in a mail slot. */
  declare leftId: CreationOptional<string | null>;
}

/** What the office's rules said of a message as it went. */
export interface MessageRuled {
  version: number;
  acted: { id: string; name: string }[];
  /** Kinds and counts, nothing of what was seen. Not yet of what went when rules were new. */
  content?: ContentFacts;
  /** The rules’ questions that were answered with yes. */
  confirmed?: readonly string[];
  reason?: string;
}

export class MessageRow extends Model<InferAttributes<MessageRow>, InferCreationAttributes<MessageRow>> {
  declare id: string;
  declare accountId: string;
  declare contentBlobId: string | null;
  declare reference: string;
  declare handling: HandlingTerms & { closesAt: string };
  declare size: string | number;
  declare sentAt: Date;
  declare requestDigest: Buffer;
  declare presetVersion: CreationOptional<string | null>;
  declare presetName: CreationOptional<string>;
  declare purpose: CreationOptional<'message' | 'request'>;
  /** Which of their addresses the sender wrote from; their main one without it. */
  declare senderAddress: CreationOptional<string | null>;
  declare conversationId: string;
  declare inReplyTo: CreationOptional<string | null>;
  declare senderGrantId: CreationOptional<string | null>;
  declare receipt: CreationOptional<boolean>;
  declare confirm: CreationOptional<boolean>;
  declare choose: CreationOptional<boolean>;
  declare remindHours: CreationOptional<number>;
  declare ownKey: CreationOptional<Buffer | null>;
  declare toAll: CreationOptional<boolean>;
  declare senderReaderId: CreationOptional<string | null>;
  declare ownSummary: CreationOptional<Buffer | null>;
  declare openReason: CreationOptional<string | null>;
  declare ruled: CreationOptional<MessageRuled | null>;
  /** The mail program it came by. */
  declare byProgram: CreationOptional<string | null>;
  declare mailIdHash: CreationOptional<Buffer | null>;
}

export class PresetRow extends Model<InferAttributes<PresetRow>, InferCreationAttributes<PresetRow>> {
  declare id: string;
  declare position: number;
  declare name: string;
  declare sentence: string;
  declare terms: PresetTerms;
  declare active: boolean;
  declare isDefault: boolean;
  declare changedAt: Date;
  declare changedBy: CreationOptional<string | null>;
}

export class GrantRow extends Model<InferAttributes<GrantRow>, InferCreationAttributes<GrantRow>> {
  declare id: string;
  declare messageId: string;
  declare accountId: string;
  declare position: number;
  declare address: string;
  declare name: string;
  declare role: RecipientRole;
  declare state: GrantState;
  declare closesAt: Date;
  declare endedAt: CreationOptional<Date | null>;
  declare replacedBy: CreationOptional<string | null>;
  declare houseShare: CreationOptional<Buffer | null>;
  declare wrappedKey: CreationOptional<Buffer | null>;
  declare proofHash: CreationOptional<Buffer | null>;
  declare carried: CreationOptional<boolean>;
  declare checkKind: WayKnown;
  declare checkHint: string;
  declare channel: CreationOptional<Buffer | null>;
  declare noticeState: CreationOptional<NoticeState>;
  declare noticeAt: CreationOptional<Date | null>;
  declare noticeAnswer: CreationOptional<string | null>;
  declare openCount: CreationOptional<number>;
  declare firstOpenedAt: CreationOptional<Date | null>;
  declare lastOpenedAt: CreationOptional<Date | null>;
  declare confirmedAt: CreationOptional<Date | null>;
  declare wrongTries: CreationOptional<number>;
  declare notForMeAt: CreationOptional<Date | null>;
  declare passcodeHash: CreationOptional<Buffer | null>;
  declare passcodeSentAt: CreationOptional<Date | null>;
  declare passcodeWrong: CreationOptional<number>;
  declare passcodePauses: CreationOptional<number>;
  declare passcodePausedUntil: CreationOptional<Date | null>;
  declare passcodeSpent: CreationOptional<number>;
  declare language: CreationOptional<Language>;
  declare remindedAt: CreationOptional<Date | null>;
  declare parentId: CreationOptional<string | null>;
  declare readerKind: 'link' | 'account' | 'registered';
  declare readerAccountId: CreationOptional<string | null>;
  declare arrivedAt: CreationOptional<Date | null>;
  declare sealedShare: CreationOptional<Buffer | null>;
  declare sealedSummary: CreationOptional<Buffer | null>;
  declare question: CreationOptional<Buffer | null>;
  declare answerHash: CreationOptional<Buffer | null>;
  declare toldHash: CreationOptional<Buffer | null>;
  declare otherWayAt: CreationOptional<Date | null>;
  declare otherWay: CreationOptional<string | null>;
  declare unread: CreationOptional<boolean>;
  declare readerId: CreationOptional<string | null>;
  declare removedAt: CreationOptional<Date | null>;
  declare lostAt: CreationOptional<Date | null>;
  declare giveAgainAskedAt: CreationOptional<Date | null>;
}

export class ReaderRow extends Model<InferAttributes<ReaderRow>, InferCreationAttributes<ReaderRow>> {
  declare id: string;
  declare address: string;
  declare addressKey: string;
  declare name: string;
  declare language: Language;
  declare languageChosen: CreationOptional<boolean>;
  declare hashing: StoredHashing;
  declare authHash: string;
  declare wrappedSecret: Buffer;
  declare publicKey: Buffer;
  declare keySuite: number;
  declare sealedPrivateKey: Buffer;
  declare knownBy: CreationOptional<IdentityCheck | null>;
  declare since: Date;
}

export class ReaderSessionRow extends Model<
  InferAttributes<ReaderSessionRow>,
  InferCreationAttributes<ReaderSessionRow>
> {
  declare tokenHash: Buffer;
  declare grantId: string;
  declare expiresAt: Date;
  declare counted: CreationOptional<boolean>;
  /** The registered reader's sign-in it came from. */
  declare signInHash: CreationOptional<Buffer | null>;
}

export class OutboxRow extends Model<InferAttributes<OutboxRow>, InferCreationAttributes<OutboxRow>> {
  declare id: string;
  declare grantId: string;
  declare createdAt: Date;
  declare sealedShare: Buffer | null;
  declare state: 'waiting' | 'delivered' | 'failed' | 'cancelled';
  declare leasedUntil: CreationOptional<Date | null>;
  declare attempts: CreationOptional<number>;
  declare messageIdHeader: string;
  declare sha256: CreationOptional<Buffer | null>;
  declare deliveredAt: CreationOptional<Date | null>;
}

/** `times`: how often, when more than once, since `from`. */
export interface EventData {
  hadOpened?: boolean;
  closesAt?: string;
  address?: string;
  times?: number;
  from?: string;
  way?: string;
}

export class EventRow extends Model<InferAttributes<EventRow>, InferCreationAttributes<EventRow>> {
  declare id: string;
  declare messageId: string;
  declare grantId: string | null;
  declare at: Date;
  declare kind: EventKind;
  declare data: CreationOptional<EventData>;
}

const ACCOUNT_COLUMNS = {
  id: key(),
  address: required(TEXT),
  addressKey: required(TEXT),
  name: required(TEXT),
  title: required(TEXT),
  phone: TEXT,
  role: required(TEXT),
  hashing: JSONB,
  authHash: TEXT,
  wrappedSecret: BLOB,
  recoveryAuthHash: TEXT,
  recoveryWrappedSecret: BLOB,
  invitationHash: BLOB,
  invitationUntil: DATE,
  createdAt: required(DATE),
  endedAt: DATE,
  further: { type: JSONB, defaultValue: [] },
  departments: { type: JSONB, defaultValue: [] },
  mayRelease: { type: BOOLEAN, defaultValue: false },
  toldByMail: { type: BOOLEAN, defaultValue: true },
  toldAddress: TEXT,
  toldLeft: { type: TEXT, allowNull: false, defaultValue: 'daily' },
  publicKey: BLOB,
  keySuite: INTEGER,
};

const SESSION_COLUMNS = {
  id: key(),
  tokenHash: required(BLOB),
  accountId: required(UUID),
  device: required(TEXT),
  createdAt: required(DATE),
  lastSeenAt: required(DATE),
};

const VAULT_ITEM_COLUMNS = {
  accountId: key(),
  kind: { type: TEXT, primaryKey: true },
  id: key(),
  revision: required(INTEGER),
  updatedAt: required(DATE),
  sealed: required(BLOB),
};

const BLOB_COLUMNS = {
  id: key(),
  accountId: required(UUID),
  size: required(BIGINT),
  createdAt: required(DATE),
  grantId: UUID,
  leftId: UUID,
};

const MESSAGE_COLUMNS = {
  id: key(),
  accountId: required(UUID),
  contentBlobId: UUID,
  reference: required(TEXT),
  handling: required(JSONB),
  size: required(BIGINT),
  sentAt: required(DATE),
  requestDigest: required(BLOB),
  presetVersion: UUID,
  presetName: { type: TEXT, defaultValue: '' },
  purpose: { type: TEXT, defaultValue: 'message' },
  senderAddress: TEXT,
  conversationId: required(UUID),
  inReplyTo: UUID,
  senderGrantId: UUID,
  receipt: { type: BOOLEAN, defaultValue: false },
  confirm: { type: BOOLEAN, defaultValue: false },
  choose: { type: BOOLEAN, defaultValue: false },
  remindHours: { type: INTEGER, defaultValue: 0 },
  ownKey: BLOB,
  toAll: { type: BOOLEAN, defaultValue: false },
  senderReaderId: UUID,
  ownSummary: BLOB,
  openReason: TEXT,
  byProgram: TEXT,
  mailIdHash: BLOB,
  ruled: JSONB,
};

const PRESET_COLUMNS = {
  id: key(),
  position: required(INTEGER),
  name: required(TEXT),
  sentence: required(TEXT),
  terms: required(JSONB),
  active: required(BOOLEAN),
  isDefault: required(BOOLEAN),
  changedAt: required(DATE),
  changedBy: UUID,
};

const GRANT_COLUMNS = {
  id: key(),
  messageId: required(UUID),
  accountId: required(UUID),
  position: required(INTEGER),
  address: required(TEXT),
  name: required(TEXT),
  role: required(TEXT),
  state: required(TEXT),
  closesAt: required(DATE),
  endedAt: DATE,
  replacedBy: UUID,
  houseShare: BLOB,
  wrappedKey: BLOB,
  proofHash: BLOB,
  carried: { type: BOOLEAN, defaultValue: false },
  checkKind: required(TEXT),
  checkHint: required(TEXT),
  channel: BLOB,
  noticeState: { type: TEXT, defaultValue: 'waiting' },
  noticeAt: DATE,
  noticeAnswer: TEXT,
  openCount: { type: INTEGER, defaultValue: 0 },
  firstOpenedAt: DATE,
  lastOpenedAt: DATE,
  confirmedAt: DATE,
  wrongTries: { type: INTEGER, defaultValue: 0 },
  notForMeAt: DATE,
  passcodeHash: BLOB,
  passcodeSentAt: DATE,
  passcodeWrong: { type: INTEGER, defaultValue: 0 },
  passcodePauses: { type: INTEGER, defaultValue: 0 },
  passcodePausedUntil: DATE,
  passcodeSpent: { type: INTEGER, defaultValue: 0 },
  language: { type: TEXT, defaultValue: 'en' },
  remindedAt: DATE,
  parentId: UUID,
  readerKind: required(TEXT),
  readerAccountId: UUID,
  arrivedAt: DATE,
  sealedShare: BLOB,
  sealedSummary: BLOB,
  question: BLOB,
  answerHash: BLOB,
  toldHash: BLOB,
  otherWayAt: DATE,
  otherWay: TEXT,
  unread: { type: BOOLEAN, defaultValue: true },
  readerId: UUID,
  removedAt: DATE,
  lostAt: DATE,
  giveAgainAskedAt: DATE,
};

const READER_COLUMNS = {
  id: key(),
  address: required(TEXT),
  addressKey: required(TEXT),
  name: required(TEXT),
  language: required(TEXT),
  languageChosen: { type: BOOLEAN, defaultValue: false },
  hashing: required(JSONB),
  authHash: required(TEXT),
  wrappedSecret: required(BLOB),
  publicKey: required(BLOB),
  keySuite: required(INTEGER),
  sealedPrivateKey: required(BLOB),
  knownBy: TEXT,
  since: required(DATE),
};

const READER_SESSION_COLUMNS = {
  tokenHash: { type: BLOB, primaryKey: true },
  grantId: required(UUID),
  expiresAt: required(DATE),
  counted: { type: BOOLEAN, defaultValue: false },
  signInHash: BLOB,
};

const OUTBOX_COLUMNS = {
  id: key(),
  grantId: required(UUID),
  createdAt: required(DATE),
  sealedShare: BLOB,
  state: required(TEXT),
  leasedUntil: DATE,
  attempts: { type: INTEGER, defaultValue: 0 },
  messageIdHeader: required(TEXT),
  sha256: BLOB,
  deliveredAt: DATE,
};

const EVENT_COLUMNS = {
  id: key(),
  messageId: required(UUID),
  grantId: UUID,
  at: required(DATE),
  kind: required(TEXT),
  data: { type: JSONB, defaultValue: {} },
};

/** Sequelize writes into what it is given. */
const fresh = <T extends object>(columns: T): T =>
  Object.fromEntries(
    Object.entries(columns).map(([name, column]: [string, unknown]) => [
      name,
      typeof column === 'object' ? { ...column } : column,
    ]),
  ) as T;

export function defineModels(sequelize: Sequelize): void {
  const at = (tableName: string) => ({ sequelize, tableName, timestamps: false, underscored: true }) as const;
  AccountRow.init(fresh(ACCOUNT_COLUMNS), at('accounts'));
  SessionRow.init(fresh(SESSION_COLUMNS), at('sessions'));
  VaultItemRow.init(fresh(VAULT_ITEM_COLUMNS), at('vault_items'));
  BlobRow.init(fresh(BLOB_COLUMNS), at('blobs'));
  MessageRow.init(fresh(MESSAGE_COLUMNS), at('messages'));
  PresetRow.init(fresh(PRESET_COLUMNS), at('presets'));
  GrantRow.init(fresh(GRANT_COLUMNS), at('grants'));
  ReaderRow.init(fresh(READER_COLUMNS), at('readers'));
  ReaderSessionRow.init(fresh(READER_SESSION_COLUMNS), at('reader_sessions'));
  OutboxRow.init(fresh(OUTBOX_COLUMNS), at('outbox'));
  EventRow.init(fresh(EVENT_COLUMNS), at('events'));
}
