/** A statement, from the server's signature to a file on the worker's disk. */
import { makeDeliveryStatement, makeStatement } from '@under-lock/contract/outgoing';
import {
  type AnyStatement,
  DELIVERY_FORMAT,
  type DeliveryStatement,
  type StatementFile,
} from '@under-lock/core/statement/format';
import { statementFile } from '@under-lock/core/statement/statement';
import { wrap } from 'comlink';
import { api } from '../api';
import { zone } from '../clock';
import { saveFile } from '../save-file';
import { startThread } from '../threads/start';
import { type StatementDoor } from '../threads/statement';

export const signedStatement = (messageId: string, grantIds: string[]): Promise<StatementFile> =>
  api(makeStatement, { params: { id: messageId }, body: { grantIds } });

export const signedDelivery = (messageId: string): Promise<StatementFile<DeliveryStatement>> =>
  api(makeDeliveryStatement, { params: { id: messageId } });

const nameOf = ({ statement: { format, message, madeAt } }: StatementFile<AnyStatement>): string =>
  `${format === DELIVERY_FORMAT ? 'delivery' : 'statement'}-${(message.reference || message.id.slice(0, 8)).replace(/[^\w-]+/g, '-')}-${madeAt.slice(0, 10)}`;

export const saveJson = (file: StatementFile<AnyStatement>): void =>
  saveFile(statementFile(file), `${nameOf(file)}.json`, 'application/json');

export async function savePdf(
  file: StatementFile<AnyStatement>,
  subject: string,
  paper: 'a4' | 'letter',
): Promise<void> {
  const thread = startThread('statement');
  const failed = new Promise<never>((_, reject) => {
    thread.onerror = () => reject(new Error('The page could not load what sets the PDF'));
  });
  try {
    saveFile(
      await Promise.race([failed, wrap<StatementDoor>(thread).pdf({ file, subject, paper }, zone)]),
      `${nameOf(file)}.pdf`,
      'application/pdf',
    );
  } finally {
    thread.terminate();
  }
}

/** The check: one file that opens in any browser, without a network. */
export async function saveCheck(): Promise<void> {
  const response = await fetch('/statement-check.html');
  if (!response.ok) throw new Error('The check could not be fetched');
  saveFile(new Uint8Array(await response.arrayBuffer()), 'statement-check.html', 'text/html');
}
