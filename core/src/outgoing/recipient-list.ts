/** Lists of addresses as people type and paste them. */
import { readAddressList } from '../message/address-list';
import { addressKey, type AddressProblem, checkAddress, cleanName, type Correspondent } from '../people/address';

export interface RecipientList {
  accepted: Correspondent[];
  rejected: { text: string; problem: AddressProblem }[];
}

const MAX_LIST = 100_000; // characters

/**
 * Splits a typed or pasted list (commas, semicolons, lines; with or without names); duplicates within it are merged,
 * first one wins.
 */
export function readRecipients(typed: string): RecipientList {
  const list: RecipientList = { accepted: [], rejected: [] };
  const seen = new Set<string>();
  const text = typed
    .slice(0, MAX_LIST)
    .replace(/[\r\n;]+/g, ',')
    .replace(/\t+/g, ' ');
  for (const entry of readAddressList(text)) {
    // What can't be read comes as a name without an address; a bare "a@b c@d" comes as one address and is refused here.
    const candidate = entry.address === '' ? entry.name : entry.address;
    if (candidate.trim() === '') continue;
    const checked = checkAddress(candidate);
    if (!checked.ok) {
      list.rejected.push({ text: candidate.trim(), problem: checked.problem });
      continue;
    }
    const key = addressKey(checked.address);
    if (seen.has(key)) continue;
    seen.add(key);
    list.accepted.push({ name: entry.address === '' ? '' : cleanName(entry.name), address: checked.address });
  }
  return list;
}
