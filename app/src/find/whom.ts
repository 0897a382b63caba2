import { addressKey, checkAddress, type Correspondent, hostOf } from '@under-lock/core/people/address';

export interface Offered {
  label: string;
  /** As it is asked for: an address, or a domain after an "@". */
  who: string;
}

const MOST = 6;
const DOMAIN = /^@?(?:[a-z0-9-]+\.)+[a-z]{2,}$/;

/** By name or address: people, the firms they are of, and whatever else was typed whole. Pure. */
export function offeredFor(typed: string, people: readonly Correspondent[]): Offered[] {
  const wanted = typed.trim().toLowerCase();
  if (wanted === '') return [];
  const bare = wanted.replace(/^@/, '');
  const named = people
    .filter(({ name, address }) => `${name} ${address}`.toLowerCase().includes(wanted))
    .map(({ name, address }) => ({ label: name || address, who: addressKey(address) }));
  const firms = [...new Set(people.map(({ address }) => hostOf(addressKey(address))))]
    .filter((host) => host.includes(bare))
    .map((host) => ({ label: `Everybody at ${host}`, who: `@${host}` }));
  const checked = checkAddress(wanted);
  const whole = checked.ok
    ? [{ label: checked.address, who: addressKey(checked.address) }]
    : DOMAIN.test(wanted)
      ? [{ label: `Everybody at ${bare}`, who: `@${bare}` }]
      : [];
  const all = [...named.slice(0, MOST - 2), ...firms.slice(0, 2), ...whole];
  return all.filter(({ who }, index) => all.findIndex((one) => one.who === who) === index).slice(0, MOST);
}
