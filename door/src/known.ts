/** What a plan made here knows: the office, its people and rules, asked of the server as a browser asks it. */
import { listColleagues } from '@under-lock/contract/account';
import { findAnswered } from '@under-lock/contract/outgoing';
import { getFileRules } from '@under-lock/contract/file-lock';
import { listPresets } from '@under-lock/contract/handling';
import { getOffice } from '@under-lock/contract/office';
import { findRegistered } from '@under-lock/contract/registered';
import { getPolicy, listNewTo } from '@under-lock/contract/rules';
import { type AnsweredLock } from '@under-lock/core/handling/preset';
import { firmLocks } from '@under-lock/core/office-book/firm';
import { withOffice } from '@under-lock/core/office-book/planned';
import { answersNamed } from '@under-lock/core/outgoing/dispatch';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { type Planned } from '@under-lock/core/outgoing/plan';
import { type Looked } from '@under-lock/core/outgoing/looked';
import { isStaffAddress, type KnownOfRules } from '@under-lock/core/outgoing/ruled';
import { type Context, type Owner } from './house';
import { meansOf } from './means';
import { type Signing, signingFor } from './signers';

export interface House {
  /** What is signed with in its writer's name. */
  means: Signing['means'];
  known: Omit<Known, 'rules'>;
  rules: Omit<KnownOfRules, 'looked' | 'isLookedThrough'>;
  /** What is known here of whatever the mail answers. */
  answered: AnsweredLock | undefined;
}

/** What a mail became, what was known for it, and how it is to leave. */
export interface Way {
  draft: Draft;
  known: Known;
  plan: Planned;
}

/** What the server and the office book say, all asked at once. */
async function asked({ book }: Context, owner: Owner, draft: Draft) {
  const { client } = owner;
  const addresses = draft.recipients.map(({ address }) => address);
  const answers = answersNamed(draft);
  const [there, office, { colleagues }, { presets }, policy, fileRules, { readers }, written, { answered }] =
    await Promise.all([
      book.asKnownTo(owner),
      client(getOffice),
      client(listColleagues),
      client(listPresets),
      client(getPolicy),
      client(getFileRules),
      addresses.length === 0 ? { readers: [] } : client(findRegistered, { body: { addresses } }),
      addresses.length === 0 ? { addresses: [] } : client(listNewTo, { body: { addresses } }),
      answers.length === 0 ? { answered: undefined } : client(findAnswered, { body: { answers } }),
    ]);
  const newTo = new Set(written.addresses);
  return { addresses, there, office, colleagues, presets, policy, fileRules, readers, newTo, answered };
}

/** @throws ApiProblem */
export async function askHouse(context: Context, owner: Owner, draft: Draft, now: Date): Promise<House> {
  const { account } = owner;
  const { addresses, there, office, colleagues, presets, policy, fileRules, readers, newTo, answered } = await asked(
    context,
    owner,
    draft,
  );
  const { people, passwords } = withOffice([], [], there.people);
  const outside = addresses.filter((address) => !isStaffAddress(address, { office, colleagues }));
  const [{ certificates, keys }, signing] = await Promise.all([
    meansOf(owner, people, { addresses, outside }, now),
    signingFor(context, owner, draft.from ?? account.address, now),
  ]);
  return {
    means: signing.means,
    answered,
    rules: { policy, newTo, departments: account.departments },
    known: {
      office,
      account,
      colleagues,
      presets,
      fileRules,
      registered: readers,
      people,
      passwords,
      firms: firmLocks(there.firms.map(({ value }) => value)),
      knownKeys: {},
      certificates,
      keys,
      signs: signing.signs,
      now,
      zone: office.calendar.zone,
    },
  };
}

export const withRules = ({ known, rules }: House, looked: Looked): Known => ({
  ...known,
  rules: { ...rules, looked, isLookedThrough: true },
});
