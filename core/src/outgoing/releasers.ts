/** Who may let a message go that somebody else wrote. */
import { isChanged } from '../account/known-keys';
import { type AccountKey, type Colleague } from '../locks/known';
import { isOwnAddress } from '../people/own-addresses';
import { type Known } from './known';

export interface Releaser {
  id: string;
  name: string;
  key: AccountKey;
}

/**
 * Who may let it go: never its sender, nobody who has never signed in, and nobody whose key is another than it was.
 */
export const releasersOf = ({
  account,
  colleagues,
  knownKeys,
}: Pick<Known, 'account' | 'colleagues' | 'knownKeys'>): Releaser[] =>
  colleagues.flatMap((one: Colleague) =>
    one.mayRelease !== true || one.key === undefined || isOwnAddress(one, account.address) || isChanged(knownKeys, one)
      ? []
      : [{ id: one.id, name: one.name, key: one.key }],
  );
