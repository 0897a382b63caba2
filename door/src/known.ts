/** What a plan made here knows: the office, its people and rules, asked of the server as a browser asks it. */
import { listColleagues } from '@under-lock/contract/account';
import { getFileRules } from '@under-lock/contract/file-lock';
import { listPresets } from '@under-lock/contract/handling';
import { getOffice } from '@under-lock/contract/office';
import { findRegistered } from '@under-lock/contract/registered';
import { getPolicy, listNewTo } from '@under-lock/contract/rules';
import { firmLocks } from '@under-lock/core/office-book/firm';
import { withOffice } from '@under-lock/core/office-book/planned';
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
}

/** What a mail became, what was known for it, and how it is to leave. */
export interface Way {
  draft: Draft;
  known: Known;
  plan: Planned;
}

/** @throws ApiProblem */
export async function askHouse(context: Context, owner: Owner, draft: Draft, now: Date): Promise<House> {
  const { book } = context;
  const { account, client } = owner;
  const addresses = draft.recipients.map(({ address }) => address);
  const [there, office, { colleagues }, { presets }, policy, fileRules, { readers }, { addresses: newTo }] =
    await Promise.all([
      book.asKnownTo(owner),
      client(getOffice),
      client(listColleagues),
      client(listPresets),
      client(getPolicy),
      client(getFileRules),
      addresses.length === 0 ? { readers: [] } : client(findRegistered, { body: { addresses } }),
      addresses.length === 0 ? { addresses: [] } : client(listNewTo, { body: { addresses } }),
    ]);
  const { people, passwords } = withOffice([], [], there.people);
  const outside = addresses.filter((address) => !isStaffAddress(address, { office, colleagues }));
  const [{ certificates, keys }, signing] = await Promise.all([
    meansOf(owner, people, { addresses, outside }, now),
    signingFor(context, owner, draft.from ?? account.address, now),
  ]);
  return {
    means: signing.means,
    rules: { policy, newTo: new Set(newTo), departments: account.departments },
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
