/** What can be settled in the plan of a draft. */
import { makeTold } from '@under-lock/core/identity/told';
import { fileWayIn } from '@under-lock/core/locks/file/known';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { ALL_WAYS } from '@under-lock/core/ways/file-way';
import { type Verdict } from '@under-lock/core/rules/rule';
import { isOwnAddress } from '@under-lock/core/people/own-addresses';
import { takePassword } from '../../passwords/for-recipient';
import { AskSignedAt } from '../../asking/AskSignedLater';
import { keepKnownKeys } from '../../people/known-keys';
import { rememberPerson } from '../../people/person';
import { recipientEdits } from './recipient-edits';
import { type DraftDesk } from '../useDraft';
import { type WritingContext } from '../usePlan';
import { useSteady } from '../useSteady';
import { type PlanActions } from './plan-actions';

interface About {
  desk: DraftDesk;
  draft: Draft;
  people: WritingContext['people'] | undefined;
  ownPeople: WritingContext['ownPeople'] | undefined;
  ownPasswords: WritingContext['ownPasswords'] | undefined;
  colleagues: WritingContext['colleagues'] | undefined;
  passwords: WritingContext['passwords'] | undefined;
  fileRules: WritingContext['fileRules'] | undefined;
  verdict: Verdict | undefined;
}

/** So many people's directories are asked at once. */
const FEW = 10;

/** Nothing is drawn that calls these before everything is there. */
function planActions({
  desk,
  draft,
  people: known,
  ownPeople = [],
  ownPasswords = [],
  colleagues = [],
  passwords: book,
  fileRules: rules,
  verdict,
}: About): PlanActions {
  const [people, passwords, fileRules] = [known ?? [], book ?? [], rules!];
  const { change, remove } = recipientEdits(desk);
  const among = {
    settled: draft.recipients,
    people,
    passwords,
    fileRules,
    allowedWays: verdict?.demand.ways ?? ALL_WAYS,
  };
  const wayTo = (address: string): ReturnType<typeof fileWayIn> => fileWayIn(among, address);
  const nameOf = (address: string): string => draft.recipients.find((one) => one.address === address)?.name ?? '';
  return {
    setPhone: (address, phone) => rememberPerson(ownPeople, { name: nameOf(address), address, phone }),
    setSecondAddress: (address, secondAddress) =>
      rememberPerson(ownPeople, { name: nameOf(address), address, secondAddress }),
    setCheck: (address, check) => change(address, { check, ...(check === 'told' ? { told: makeTold() } : {}) }),
    setLock: (address, lock) => change(address, { lock }),
    setQuestion: change,
    setScope: (address, scope) => change(address, { scope }),
    leastGuesses: rules?.leastGuesses ?? 0,
    passwordOf: (address) => wayTo(address).password?.password,
    usePassword: (address, chosen) =>
      takePassword(
        {
          people: ownPeople,
          passwords: ownPasswords,
          fileRules,
          name: nameOf(address),
          eachTime: wayTo(address).way.eachTime,
        },
        address,
        chosen,
        (password) => change(address, { password }),
      ),
    takeNewKey: (address) =>
      keepKnownKeys(
        colleagues.filter((one) => isOwnAddress(one, address)),
        true,
      ),
    remove,
    askSigned: (address) => (
      <AskSignedAt
        address={address}
        name={nameOf(address)}
        forDraft={desk.id}
        lookAtOnce={draft.recipients.length <= FEW}
      />
    ),
  };
}

export const usePlanActions = (about: About): PlanActions => useSteady(planActions(about));
