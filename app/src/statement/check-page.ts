/**
 * The script of the check: a page by itself, opened from a disk, that takes a statement's file and says what it found.
 * Nothing of it needs a network.
 */
import {
  type AnyStatement,
  DELIVERY_FORMAT,
  type DeliveryStatement,
  type Statement,
} from '@under-lock/core/statement/format';
import { checkStatement, type CheckFailure, inGroups } from '@under-lock/core/statement/statement';
import { accessSentences, copySentence, openedSentence, statedName } from '@under-lock/core/statement/words';

const failures: Record<CheckFailure, string> = {
  'not-a-statement': 'This file holds no statement. Take the PDF or the JSON as it was given to you.',
  signature: 'The signature is wrong. The file was changed, or it was not signed with the key it names.',
  altered: 'The readable part says something other than what was signed. Don’t rely on this file.',
  'too-large': 'This file is too large to be a statement.',
};

const at = (id: string): HTMLElement => document.getElementById(id)!;

function element(tag: string, text: string, className = ''): HTMLElement {
  const made = document.createElement(tag);
  made.textContent = text;
  made.className = className;
  return made;
}

const moment = (instant: string): string =>
  new Date(instant).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'long' });
/** Statements of the time before don't say it. */
const backupWords = ({ backupsUntil }: { backupsUntil?: string | undefined }): string =>
  backupsUntil === undefined ? '' : `, and backups may hold it until ${moment(backupsUntil)}, sealed`;

const listOf = (items: readonly string[]): HTMLElement => {
  const list = document.createElement('ul');
  list.append(...items.map((item) => element('li', item)));
  return list;
};

function endedParts({ ended, stillOpen }: Statement): HTMLElement[] {
  return [
    listOf(
      ended.map(
        (access) =>
          `${statedName(access.reader)}: ${access.state === 'withdrawn' ? 'withdrawn by the sender' : 'closed by its date'} ${moment(access.endedAt)}; ${openedSentence(access.opened, moment)}; the office’s server can’t give out its half of the key any more${backupWords(access)}.`,
      ),
    ),
    element(
      'p',
      stillOpen === 0 ? 'No other access to it is open.' : `Other accesses to it that were still open: ${stillOpen}.`,
    ),
  ];
}

const deliveryParts = ({ accesses, copies }: DeliveryStatement): HTMLElement[] => [
  listOf(accesses.map((access) => `${statedName(access.reader)}: ${accessSentences(access, moment).join(' ')}`)),
  listOf(copies.map((copy) => `${statedName(copy.reader)}: ${copySentence(copy, moment)}`)),
];

function show(statement: AnyStatement, fingerprint: string): void {
  const { office, message, madeAt } = statement;
  const isDelivery = statement.format === DELIVERY_FORMAT;
  at('result').replaceChildren(
    element('h2', '● The signature is right', 'right'),
    element(
      'p',
      `${office.name} (${office.domain}) states ${isDelivery ? 'of a delivery' : 'of ended access'} on ${moment(madeAt)}:`,
    ),
    element(
      'p',
      `Message ${message.reference === '' ? message.id : message.reference}, sent ${moment(message.sentAt)} by ${statedName(message.sender)}.`,
    ),
    ...(isDelivery ? deliveryParts(statement) : endedParts(statement)),
    element('h2', 'Whose key is it?'),
    element(
      'p',
      'A right signature says that nothing was changed since. Whether it is the office’s, only the fingerprint says. Compare it with the one the office gave you by another way:',
    ),
    element('p', inGroups(fingerprint), 'mono'),
  );
}

async function check(file: File): Promise<void> {
  const result = await checkStatement(new Uint8Array(await file.arrayBuffer()));
  if (result.ok) show(result.statement, result.keyThumbprint);
  else at('result').replaceChildren(element('h2', '■ Not confirmed', 'wrong'), element('p', failures[result.failure]));
}

at('file').addEventListener('change', (event) => {
  const [file] = (event.target as HTMLInputElement).files ?? [];
  if (file !== undefined) void check(file);
});
