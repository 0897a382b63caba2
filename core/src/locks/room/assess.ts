import {
  type HandlingTerms,
  type IdentityCheck,
  isPasscodeWay,
  passwordSuffices,
  stricterCheck,
} from '../../handling/handling';
import { type AnswerLeak, answerLeaks, answerProblem } from '../../identity/answer';
import { addressHint } from '../../people/address-hint';
import { addressKey } from '../../people/address';
import { phoneHint } from '../../people/phone-hint';
import { type AssessmentContext, type AssessmentOf, type PlannedHandling, type Recipient } from '../lock';

/** What must be put right before an access can be given. */
export type RoomMissing =
  | { code: 'phone-missing' }
  | { code: 'phone-is-yours' }
  | { code: 'second-address-missing' }
  | { code: 'second-address-is-the-same' }
  | { code: 'second-address-is-yours' }
  | { code: 'question-missing' }
  | { code: 'answer-missing' }
  | { code: 'answer-too-short' }
  /** No one-time password was made yet. */
  | { code: 'told-missing' }
  | { code: 'staff-only' }
  | { code: 'outsiders-only' }
  | { code: 'nobody-allowed' }
  | { code: 'colleague-not-ready' }
  /** Their key is another one than when they were first written to. */
  | { code: 'colleague-key-changed' };

/** What the worker should look at, and may send all the same. */
export type RoomWarning =
  | { code: 'phone-of-another'; name: string }
  | { code: 'second-address-of-another'; name: string }
  | { code: 'answer-stands-in'; place: AnswerLeak };

export type RoomReason =
  | { code: 'nothing-needed-at-their-end' }
  | { code: 'can-be-closed-and-withdrawn' }
  | { code: 'signed-in-here' }
  | { code: 'has-a-password' };

interface Found {
  missing: RoomMissing[];
  warnings: RoomWarning[];
}
const nothing: Found = { missing: [], warnings: [] };

function assessPhone({ phone, address }: Recipient, { sender, others }: AssessmentContext): Found {
  if (phone === undefined) return { missing: [{ code: 'phone-missing' }], warnings: [] };
  if (sender.phones.includes(phone)) return { missing: [{ code: 'phone-is-yours' }], warnings: [] };
  const owner = others.find((other) => other.phone === phone && addressKey(other.address) !== addressKey(address));
  return {
    missing: [],
    warnings: owner === undefined ? [] : [{ code: 'phone-of-another', name: owner.name || owner.address }],
  };
}

function assessSecondAddress({ secondAddress, address }: Recipient, { sender, others }: AssessmentContext): Found {
  if (secondAddress === undefined) return { missing: [{ code: 'second-address-missing' }], warnings: [] };
  const key = addressKey(secondAddress);
  if (key === addressKey(address)) return { missing: [{ code: 'second-address-is-the-same' }], warnings: [] };
  if ([sender.address, ...sender.addresses].some((own) => addressKey(own) === key))
    return { missing: [{ code: 'second-address-is-yours' }], warnings: [] };
  const owner = others.find(
    (other) =>
      addressKey(other.address) !== addressKey(address) &&
      [other.address, other.secondAddress ?? ''].some((one) => addressKey(one) === key),
  );
  return {
    missing: [],
    warnings: owner === undefined ? [] : [{ code: 'second-address-of-another', name: owner.name || owner.address }],
  };
}

function assessQuestion(
  { question = '', answer = '', name, address }: Recipient,
  { message }: AssessmentContext,
): Found {
  if (question.trim() === '') return { missing: [{ code: 'question-missing' }], warnings: [] };
  if (answer.trim() === '') return { missing: [{ code: 'answer-missing' }], warnings: [] };
  if (answerProblem(answer) !== undefined) return { missing: [{ code: 'answer-too-short' }], warnings: [] };
  return {
    missing: [],
    warnings: answerLeaks(answer, { question, message, name: `${name} ${address}` }).map((place) => ({
      code: 'answer-stands-in',
      place,
    })),
  };
}

function assessAudience({ colleague }: Recipient, { audience }: HandlingTerms): RoomMissing[] {
  switch (audience) {
    case 'anyone':
      return [];
    case 'staff':
      return colleague === undefined ? [{ code: 'staff-only' }] : [];
    case 'outsiders':
      return colleague === undefined ? [] : [{ code: 'outsiders-only' }];
    case 'nobody':
      return [{ code: 'nobody-allowed' }];
  }
}

const hintOf = (kind: IdentityCheck, { phone, secondAddress }: Recipient): string => {
  if (!isPasscodeWay(kind)) return '';
  if (kind === 'email') return secondAddress === undefined ? '' : addressHint(secondAddress);
  return phone === undefined ? '' : phoneHint(phone);
};

/**
 * The check that counts for one person: the worker's choice for them, or the handling's, and never less than what is
 * the least.
 */
export function checkFor(
  { check }: Pick<Recipient, 'check'>,
  handling: Pick<PlannedHandling, 'check' | 'leastCheck'>,
): IdentityCheck {
  const wanted = check === undefined || check === 'password' ? handling.check : check;
  return stricterCheck(wanted, handling.leastCheck);
}

/** The room is always there, and honours every part of a handling. */
const always = () => ({ lock: 'room' as const, available: true, cannotHonour: [] });

const assessColleague = (
  { ready, changed }: NonNullable<Recipient['colleague']>,
  barred: readonly RoomMissing[],
): AssessmentOf<'room', RoomMissing, RoomWarning, RoomReason> => ({
  ...always(),
  check: { kind: 'account', hint: '', question: false },
  warnings: [],
  reasons: [{ code: 'signed-in-here' }, { code: 'can-be-closed-and-withdrawn' }],
  missing: [
    ...barred,
    ...(ready ? [] : [{ code: 'colleague-not-ready' } as const]),
    ...(changed === true ? [{ code: 'colleague-key-changed' } as const] : []),
  ],
});

function assessWay(kind: IdentityCheck, recipient: Recipient, context: AssessmentContext): Found {
  switch (kind) {
    case 'question':
      return nothing;
    case 'told':
      return recipient.told === undefined ? { missing: [{ code: 'told-missing' }], warnings: [] } : nothing;
    case 'email':
      return assessSecondAddress(recipient, context);
    case 'voice':
    case 'text':
      return assessPhone(recipient, context);
  }
}

/** The room can be used for anybody with a mailbox, once there is a second way to know them. */
export function assessRoom(
  recipient: Recipient,
  handling: PlannedHandling,
  context: AssessmentContext,
): AssessmentOf<'room', RoomMissing, RoomWarning, RoomReason> {
  const barred = assessAudience(recipient, handling);
  if (recipient.colleague !== undefined) return assessColleague(recipient.colleague, barred);
  const hasPassword = recipient.registered !== undefined && passwordSuffices(recipient.registered.knownBy, handling);
  // The worker's own choice for somebody comes before their password.
  if (hasPassword && (recipient.check === undefined || recipient.check === 'password'))
    return {
      ...always(),
      check: { kind: 'password', hint: '', question: false, orPassword: true },
      warnings: [],
      reasons: [{ code: 'has-a-password' }, { code: 'can-be-closed-and-withdrawn' }],
      missing: barred,
    };
  const kind = checkFor(recipient, handling);
  const asksQuestion = handling.question || kind === 'question';
  const way = assessWay(kind, recipient, context);
  const question = asksQuestion ? assessQuestion(recipient, context) : nothing;
  return {
    ...always(),
    check: {
      kind,
      hint: hintOf(kind, recipient),
      question: asksQuestion,
      ...(hasPassword ? { orPassword: true } : {}),
    },
    missing: [...barred, ...way.missing, ...question.missing],
    warnings: [...way.warnings, ...question.warnings],
    reasons: [{ code: 'nothing-needed-at-their-end' }, { code: 'can-be-closed-and-withdrawn' }],
  };
}
