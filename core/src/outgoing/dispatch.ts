/** What is handed to the server: accesses and copies as they were made, and the handling they go under. */
import { defined } from '../defined';
import { type Bytes, fromBase64Url } from '../bytes';
import { type Closing } from '../handling/closing-choice';
import { type Handling, type IdentityCheck, isAsStrong, type PasscodeWay } from '../handling/handling';
import { type CopyLockName } from '../locks/index';
import { type Language } from '../language';
import { type RecipientRole } from '../people/role';
import { type SealedQuestion, type SealedToAccount } from './access';
import { type Attempt, type Draft, type KeptGrant } from './draft';
import { type MessageToSeal } from './content';
import { type KnownToSend } from './known';
import { type Planned } from './plan';
import { type SealedForRelease } from '../release/paper';
import { ruledBody, type RuledBody } from './ruled';

type OutgoingChannel =
  | { kind: 'question'; question: SealedQuestion }
  | { kind: 'told'; toldProof: Bytes; question?: SealedQuestion }
  | { kind: PasscodeWay; target: string; question?: SealedQuestion };

export interface OutgoingGrant {
  id: string;
  address: string;
  name: string;
  role: RecipientRole;
  carried?: boolean;
  houseShare: Bytes;
  wrappedKey: Bytes;
  reader:
    | { kind: 'link'; channel: OutgoingChannel; readerShare: Bytes; language?: Language | undefined }
    | ({ kind: 'account'; accountId: string } & SealedToAccount)
    | ({ kind: 'registered'; readerId: string; language?: Language | undefined } & SealedToAccount);
}

export interface OutgoingCopy {
  id: string;
  lock: CopyLockName;
  blobId: string;
  recipients: { id: string; address: string; name: string; role: RecipientRole }[];
}

/** What other people's programs make up is kept to what a line may hold. */
const isUsable = (id: string): boolean => id.length <= 998 && !/\p{Cc}/u.test(id);

/** The latest of a long thread are enough. */
const MOST_ANSWERS = 100;

/** The Message-IDs that a mail program’s mail says it answers, as the server takes them. */
export const answersNamed = ({ answers = [] }: Pick<Draft, 'answers'>): string[] =>
  answers.filter(isUsable).slice(-MOST_ANSWERS);

export interface DispatchBody {
  contentBlobId: string;
  reference: string;
  from?: string;
  handling: Handling;
  presetId?: string;
  openReason?: string;
  ruled?: RuledBody;
  leavesAt?: Date;
  inReplyTo?: string;
  answers?: string[];
  mailId?: string;
  summary: Bytes;
  words?: Bytes;
  grants: OutgoingGrant[];
  copies?: OutgoingCopy[];
  /** Where a rule wants somebody else to let it go. */
  release?: ReleaseBody;
}

export interface ReleaseBody extends SealedForRelease {
  /** What its closing date is counted by from when it leaves, and in which zone. */
  closing?: Closing;
  zone: string;
}

function channelOf({ check, target, question, told }: Extract<KeptGrant['reader'], { kind: 'link' }>): OutgoingChannel {
  const asked =
    question === undefined
      ? undefined
      : { sealed: fromBase64Url(question.sealed), answerProof: fromBase64Url(question.answerProof) };
  if (check === 'question') return { kind: check, question: asked! };
  if (check === 'told') return { kind: check, toldProof: fromBase64Url(told!.proof), ...defined({ question: asked }) };
  return { kind: check, target: target!, ...defined({ question: asked }) };
}

/** A kept grant as it goes to the server. */
export function outgoingGrant(grant: KeptGrant): OutgoingGrant {
  const { id, address, name, role, carried, reader } = grant;
  const halves = {
    id,
    address,
    name,
    role,
    ...defined({ carried }),
    houseShare: fromBase64Url(grant.houseShare),
    wrappedKey: fromBase64Url(grant.wrappedKey),
  };
  if (reader.kind !== 'link') {
    const sealed = {
      sealedShare: fromBase64Url(reader.sealedShare),
      sealedSummary: fromBase64Url(reader.sealedSummary),
    };
    return { ...halves, reader: { ...reader, ...sealed } };
  }
  const readerShare = fromBase64Url(grant.readerShare);
  const { language } = reader;
  const link = { kind: 'link' as const, channel: channelOf(reader), readerShare };
  return { ...halves, reader: language === undefined ? link : { ...link, language } };
}

/**
 * What is asked of everybody who reads it by a link: the handling's check, or less where the worker chose less for one
 * of them, as the preset lets them.
 */
const checkOf = (check: IdentityCheck, grants: readonly KeptGrant[]): IdentityCheck =>
  grants.reduce(
    (least, { reader }) => (reader.kind === 'link' && !isAsStrong(reader.check, least) ? reader.check : least),
    check,
  );

interface Made {
  draft: Draft;
  planned: Pick<Planned, 'preset' | 'applied' | 'leavesAt' | 'closingChoice'>;
  attempt: Attempt;
  message: Pick<MessageToSeal, 'reference'>;
  copies: OutgoingCopy[];
  summary: Bytes;
  words: Bytes;
  known: KnownToSend;
  forRelease: SealedForRelease | undefined;
}

export function dispatchBody({
  draft,
  planned,
  attempt,
  message,
  copies,
  summary,
  words,
  known,
  forRelease,
}: Made): DispatchBody {
  const { preset, applied, leavesAt, closingChoice } = planned;
  return {
    contentBlobId: attempt.contentBlobId,
    reference: message.reference,
    ...defined({ from: draft.from }),
    handling: {
      ...applied.terms,
      check: checkOf(applied.terms.check, attempt.grants),
      closesAt: new Date(attempt.closesAt),
    },
    ...(preset === undefined ? {} : { presetId: preset.id }),
    ...(applied.terms.clear ? { openReason: (draft.openReason ?? '').trim() } : {}),
    ...(known.rules === undefined ? {} : { ruled: ruledBody(draft, known, known.rules) }),
    ...defined({
      leavesAt,
      inReplyTo: draft.inReplyTo,
      mailId: draft.mailId !== undefined && isUsable(draft.mailId) ? draft.mailId : undefined,
    }),
    // Where it answers something that is known here by its number, that says it all.
    ...(draft.inReplyTo !== undefined || draft.answers === undefined ? {} : { answers: answersNamed(draft) }),
    summary,
    words,
    grants: attempt.grants.map(outgoingGrant),
    ...(copies.length === 0 ? {} : { copies }),
    ...(forRelease === undefined
      ? {}
      : { release: { ...forRelease, ...defined({ closing: closingChoice }), zone: known.zone } }),
  };
}
