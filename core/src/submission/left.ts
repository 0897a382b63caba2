/** What is told of a mail that a mail program handed in and that has left: what went how, to whom, until when. */
import { type LockName } from '../locks/index';
import { dayInWords, timeInWords } from '../when';

export interface LeftMail {
  /** When it leaves, or left. */
  leavesAt: Date;
  to: readonly { address: string; lock: LockName; closesAt?: Date | undefined; isClear?: boolean | undefined }[];
}

const hows: Record<LockName, string> = {
  certificate: 'encrypted under S/MIME',
  openpgp: 'encrypted under OpenPGP',
  room: 'in the reading room',
  carried: 'in a file that opens in the reading room',
  file: 'as a locked file',
  open: 'open, as it was written',
};

/** At most so many are named; the others stand on the message's page. */
const MOST_NAMED = 20;

function named(addresses: readonly string[]): string {
  const rest = addresses.length - MOST_NAMED;
  const shown = addresses.slice(0, MOST_NAMED).join(', ');
  return rest <= 0 ? shown : `${shown} and ${rest} more`;
}

/** One for each way, in the order in which they come up: “in the reading room until Fri 4 Dec: …”. */
export function waysInWords({ to }: LeftMail, now: Date, zone: string): string[] {
  const byWay = new Map<string, string[]>();
  for (const { address, lock, closesAt, isClear = false } of to) {
    const how = isClear && lock !== 'open' ? 'signed and open' : hows[lock];
    const until = closesAt === undefined ? '' : ` until ${dayInWords(closesAt, now, zone)}`;
    const way = `${how}${until}`;
    byWay.set(way, [...(byWay.get(way) ?? []), address]);
  }
  return [...byWay].map(([way, addresses]) => `${way}: ${named(addresses)}`);
}

/** “14:32, in the reading room until Fri 4 Dec: pell@postbox.example”. */
export const leftInWords = (mail: LeftMail, now: Date, zone: string): string =>
  `${timeInWords(mail.leavesAt, zone)}, ${waysInWords(mail, now, zone).join('; ')}`;
