import { addressKey } from './address';

/** An account as far as its addresses go: the main one, and further ones beside it. */
export interface WithAddresses {
  address: string;
  further: readonly string[];
}

/** Every address of an account, the main one first. */
export const ownAddresses = ({ address, further }: WithAddresses): string[] => [address, ...further];

export const isOwnAddress = (account: WithAddresses, address: string): boolean =>
  ownAddresses(account).some((one) => addressKey(one) === addressKey(address));

/**
 * The first of an account's addresses that stands among these: to which of them a mail was sent. The main one when none
 * does.
 */
export const addressedTo = (account: WithAddresses, addresses: readonly string[]): string =>
  ownAddresses(account).find((own) => addresses.some((one) => addressKey(one) === addressKey(own))) ?? account.address;
