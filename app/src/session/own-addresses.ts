import { type Account } from '@under-lock/contract/account';
import { addressKey } from '@under-lock/core/people/address';

/** Every address of an account, the main one first. */
export const ownAddresses = ({ address, further }: Pick<Account, 'address' | 'further'>): string[] => [
  address,
  ...further,
];

export const isOwnAddress = (account: Pick<Account, 'address' | 'further'>, address: string): boolean =>
  ownAddresses(account).some((one) => addressKey(one) === addressKey(address));

/**
 * The first of an account's addresses that stands among these: to which of them a mail was sent. The main one when none
 * does.
 */
export const addressedTo = (account: Pick<Account, 'address' | 'further'>, addresses: readonly string[]): string =>
  ownAddresses(account).find((own) => addresses.some((one) => addressKey(one) === addressKey(own))) ?? account.address;
