/** How somebody is to be known when they read: what was chosen and typed, judged as the plan judges it. */
import { defined } from '@under-lock/core/defined';
import {
  checksFrom,
  type HandlingTerms,
  type IdentityCheck,
  isIdentityCheck,
  isPasscodeWay,
  type WayKnown,
} from '@under-lock/core/handling/handling';
import { answerProblem } from '@under-lock/core/identity/answer';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { personAt } from '@under-lock/core/people/find';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { addressProblem } from '../people/words';
import { phoneOf, type PhoneValue } from '../phone/phone-value';
import { type WantedCheck } from './message-actions';

/** Whom it is about, and how they were to be known so far. */
export interface About {
  name: string;
  address: string;
  check: { kind: WayKnown; question: boolean };
}

export interface Asked {
  about: About;
  least: Pick<HandlingTerms, 'check' | 'question'>;
  /** One is asked besides already, and may stay. */
  keptQuestion: boolean;
  canAsk?: boolean;
}

/** What a worker has chosen and typed; undefined where it is as it was known. */
export interface Typed {
  kind: IdentityCheck | undefined;
  phone: PhoneValue | undefined;
  second: string | undefined;
  question: { text: string; answer: string };
  /** What is told when that is chosen, made once. */
  told: NonNullable<WantedCheck['told']>;
}

export interface Around {
  people: readonly Kept<Person>[];
  /** The worker's own, which is nobody else's. */
  ownPhone: string | undefined;
}

/** Somebody else for whom this number or address is known. */
function ownerOf({ people }: Around, about: About, target: string | undefined): Person | undefined {
  if (target === undefined) return undefined;
  const known = ({ phone, address, secondAddress }: Person): boolean =>
    phone === target || [address, secondAddress ?? ''].some((one) => addressKey(one) === addressKey(target));
  return people.find(({ value }) => addressKey(value.address) !== addressKey(about.address) && known(value))?.value;
}

/** What was chosen where it is offered, else a text message, else what there is. */
function kindOf({ about, least, canAsk = true }: Asked, { kind }: Typed) {
  const offered = checksFrom(least.check).filter((one) => canAsk || (one !== 'question' && one !== 'told'));
  const chosen = kind ?? (isIdentityCheck(about.check.kind) ? about.check.kind : 'text');
  const taken = offered.includes(chosen)
    ? chosen
    : (offered.find((one) => one === 'text') ?? offered[0] ?? least.check);
  return { offered, kind: taken };
}

function phoneProblem({ e164, problem }: PhoneValue, { ownPhone }: Around): string | undefined {
  if (e164 === undefined) return problem;
  return e164 === ownPhone ? 'That is your own number.' : undefined;
}

function secondProblem(second: string, about: About): string | undefined {
  const checked = checkAddress(second);
  if (!checked.ok) return addressProblem[checked.problem];
  return addressKey(checked.address) === addressKey(about.address)
    ? 'This must be another address than the first.'
    : undefined;
}

/** Where passcodes go, with what is wrong with it. */
function placeOf(kind: IdentityCheck, { about }: Asked, typed: Typed, around: Around) {
  const person = personAt(around.people, about.address)?.value;
  const phone = typed.phone ?? phoneOf(person?.phone);
  const second = typed.second ?? person?.secondAddress ?? '';
  const byPhone = kind === 'text' || kind === 'voice';
  const [phoneError, secondError] = [phoneProblem(phone, around), secondProblem(second, about)];
  const checked = checkAddress(second);
  const target = byPhone
    ? phoneError === undefined
      ? phone.e164
      : undefined
    : kind === 'email' && checked.ok && secondError === undefined
      ? checked.address
      : undefined;
  return { byPhone, phone, phoneError, second, secondError, target };
}

/** Whether a question is asked, and what of it is settled. An empty one keeps the one that is there. */
function questionOf(kind: IdentityCheck, { about, least, keptQuestion }: Asked, { question }: Typed) {
  const asks = kind === 'question' || about.check.question || least.question;
  const written = question.text.trim() !== '' && answerProblem(question.answer) === undefined;
  const stays = keptQuestion && kind !== 'question';
  const settled = !asks || written || (stays && question.text === '' && question.answer === '');
  return { asks, written, stays, settled };
}

/** With what is wanted once everything is settled. */
export function howKnown(asked: Asked, typed: Typed, around: Around) {
  const { kind, offered } = kindOf(asked, typed);
  const place = placeOf(kind, asked, typed, around);
  const { asks, written, stays, settled } = questionOf(kind, asked, typed);
  const { target } = place;
  const { text, answer } = typed.question;
  const wanted: WantedCheck | undefined =
    !settled || (isPasscodeWay(kind) && target === undefined)
      ? undefined
      : {
          check: kind,
          ...defined({ target }),
          ...(kind === 'told' ? { told: typed.told } : {}),
          ...(written ? { question: { text: text.trim(), answer } } : {}),
        };
  return {
    kind,
    offered,
    ...place,
    asks: asks && asked.canAsk !== false,
    staysAsItIs: stays,
    answerError: answer !== '' && answerProblem(answer) !== undefined ? 'Three letters or digits at least.' : undefined,
    owner: ownerOf(around, asked.about, target),
    wanted,
  };
}
export type HowKnown = ReturnType<typeof howKnown>;
