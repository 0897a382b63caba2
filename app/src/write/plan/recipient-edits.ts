import { type Draft, type DraftRecipient } from '@under-lock/core/outgoing/draft';
import { type Correspondent } from '@under-lock/core/people/address';
import { type DraftDesk } from '../useDraft';

/** What is done to a draft's recipients. */
export function recipientEdits(desk: DraftDesk) {
  const edit = (change: (recipients: Draft['recipients']) => Draft['recipients']): void =>
    desk.change((before) => ({ ...before, recipients: change(before.recipients) }));
  return {
    add: (role: DraftRecipient['role'], added: Correspondent[]): void =>
      edit((before) => [...before, ...added.map((one) => ({ ...one, role }))]),
    change: (address: string, change: Partial<DraftRecipient>): void =>
      edit((before) => before.map((one) => (one.address === address ? { ...one, ...change } : one))),
    remove: (address: string): void => edit((before) => before.filter((one) => one.address !== address)),
  };
}
