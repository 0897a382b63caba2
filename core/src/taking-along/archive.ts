/** What a registered reader takes along of what is theirs: open files in a ZIP that any program opens. */
import Papa from 'papaparse';
import { type Bytes, utf8 } from '../bytes';
import { guardedCell } from '../csv-cell';
import { distinctNames, safeFileName } from '../file-name';
import { buildMessage } from '../message/build';
import { type MessageContent } from '../message/content';
import { writeZip } from '../zip/write';

export interface TakenAlong {
  account: { address: string; name: string; language: string; office: string };
  /** What is or was held for them: what it was and until when. Its content stays where its handling keeps it. */
  held: readonly { subject: string; from: string; arrivedAt: Date; closesAt: Date; state: string; reference: string }[];
  /** What they wrote themselves, whole. */
  written: readonly MessageContent[];
  madeAt: Date;
}

const MOST_NAME = 60;

export function archive({ account, held, written, madeAt }: TakenAlong): Promise<Bytes> {
  const messages = Papa.unparse({
    fields: ['subject', 'from', 'arrived', 'readable until', 'state', 'reference'],
    data: held.map((one) =>
      [one.subject, one.from, one.arrivedAt.toISOString(), one.closesAt.toISOString(), one.state, one.reference].map(
        guardedCell,
      ),
    ),
  });
  const names = distinctNames(written.map(({ subject }) => `${safeFileName(subject.slice(0, MOST_NAME))}.eml`));
  return writeZip({
    files: [
      { name: 'account.json', bytes: utf8(JSON.stringify({ ...account, madeAt: madeAt.toISOString() }, null, 2)) },
      // A byte order mark: spreadsheets take it for another encoding without.
      { name: 'messages.csv', bytes: utf8(`\uFEFF${messages}\r\n`) },
      ...written.map((message, index) => ({ name: `written/${names[index]!}`, bytes: buildMessage(message) })),
    ],
    lock: undefined,
    date: madeAt,
    isPacked: () => false,
  });
}
