/**
 * Where somebody comes from, as far as budgets are concerned: an address, or the network that one subscriber has (RFC
 * 6177: a /64 at least).
 */
import { isIPv6 } from 'node:net';

export function placeOf(ip: string): string {
  const address = ip.replace(/^::ffff:(?=\d+\.)/i, '').split('%', 1)[0]!;
  if (!isIPv6(address)) return address;
  const [head = '', tail] = address.split('::');
  const groups = head === '' ? [] : head.split(':');
  if (tail !== undefined) {
    const end = tail === '' ? [] : tail.split(':');
    groups.push(...Array.from({ length: Math.max(0, 8 - groups.length - end.length) }, () => '0'), ...end);
  }
  return `${groups
    .slice(0, 4)
    .map((group) => group.toLowerCase().replace(/^0+(?=.)/, ''))
    .join(':')}::/64`;
}
