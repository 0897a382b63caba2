/**
 * The statement as a PDF for the file: set on A4 or Letter, and carrying the signed statement itself as an attachment,
 * so that one paper proves itself.
 */
import { PDF } from '@libpdf/core';
import { type Bytes } from '../bytes';
import { type PaperFonts, Setter } from '../pdf/setter';
import {
  type AnyStatement,
  DELIVERY_FORMAT,
  type DeliveryStatement,
  type Statement,
  type StatementFile,
} from './format';
import { inGroups, statementFile, thumbprint } from './statement';
import { accessSentences, copySentence, openedSentence, type Say, statedName } from './words';

export interface StatementPdf {
  file: StatementFile<AnyStatement>;
  /** As the sender's vault has it; not in what is signed, since the server does not know it. */
  subject: string;
  fonts: PaperFonts;
  paper: 'a4' | 'letter';
  /** An instant in words. */
  say: Say;
}

export const STATEMENT_ATTACHMENT = 'statement.json';

function setEnded(set: Setter, ended: Statement['ended'], say: Say): void {
  set.text(ended.length === 1 ? 'One access has ended' : `${ended.length} accesses have ended`, { bold: true });
  for (const access of ended) {
    set.gap(0.5);
    set.text(statedName(access.reader));
    set.text(
      `${access.state === 'withdrawn' ? 'Withdrawn by the sender' : 'Closed by its date'} ${say(access.endedAt)}; ${openedSentence(access.opened, say)}.`,
      { indent: 12 },
    );
    set.text(
      `The office’s server can’t give out its half of the key from then on: it is deleted from its records. Backups made before may hold it until ${say(access.backupsUntil)}, sealed under a key that is kept apart from them.`,
      { indent: 12 },
    );
    set.text(`Access ${access.id}`, { soft: true, indent: 12 });
  }
}

function setWhatEnded(set: Setter, { ended, stillOpen }: Statement, say: Say): void {
  setEnded(set, ended, say);
  set.gap();
  if (stillOpen > 0)
    set.text(
      stillOpen === 1
        ? 'One other access to the same message can still be used.'
        : `${stillOpen} other accesses to the same message can still be used.`,
    );
  set.text('What was read, saved or printed before an access ended is not undone by its end.', { soft: true });
}

function setOne(set: Setter, of: { id: string; reader: { name: string; address: string } }, sentences: string[]): void {
  set.gap(0.5);
  set.text(statedName(of.reader));
  for (const sentence of sentences) set.text(sentence, { indent: 12 });
  set.text(`Number ${of.id}`, { soft: true, indent: 12 });
}

function setDelivery(set: Setter, { accesses, copies }: DeliveryStatement, say: Say): void {
  if (accesses.length > 0) {
    set.text('Held in the reading room for', { bold: true });
    for (const access of accesses) setOne(set, access, accessSentences(access, say));
  }
  if (copies.length > 0) {
    if (accesses.length > 0) set.gap();
    set.text('Sent as a copy of their own to', { bold: true });
    for (const copy of copies) setOne(set, copy, [copySentence(copy, say)]);
  }
  set.gap();
  set.text(
    'That a mail host took a mail is that host’s answer. Who opened it is whoever passed what was asked; the office can’t know more.',
    { soft: true },
  );
}

function setMessage(set: Setter, { message }: AnyStatement, subject: string, say: Say): void {
  set.text('The message', { bold: true });
  set.text(
    `Subject: ${subject} (from the sender’s vault; not part of what is signed, because the office’s server can’t read it)`,
  );
  if (message.reference !== '') set.text(`Reference: ${message.reference}`);
  set.text(`Sender: ${statedName(message.sender)}`);
  set.text(`Sent: ${say(message.sentAt)}`);
  set.text(`Number: ${message.id}`, { soft: true });
  if (message.contentSha256 !== undefined)
    set.text(`SHA-256 of the sealed content: ${inGroups(message.contentSha256)}`, { soft: true });
}

/** Shapes: the file as signed in, a PDF 1.7 out. */
export async function statementPdf({ file, subject, fonts, paper, say }: StatementPdf): Promise<Bytes> {
  const { statement, key } = file;
  const { office, message } = statement;
  const pdf = PDF.create();
  const what = statement.format === DELIVERY_FORMAT ? 'Statement of delivery' : 'Statement of ended access';
  const title = `${what}, ${message.reference === '' ? message.id : message.reference}`;
  pdf.setTitle(title);
  const set = new Setter(pdf, fonts, paper);
  set.text(office.name, { soft: true });
  set.text(what, { bold: true, size: 18 });
  set.gap();
  set.text(`Made ${say(statement.madeAt)} from the records of ${office.name} (${office.domain}).`);
  set.gap();
  setMessage(set, statement, subject, say);
  set.gap();
  if (statement.format === DELIVERY_FORMAT) setDelivery(set, statement, say);
  else setWhatEnded(set, statement, say);
  set.gap();
  set.text('How to check this', { bold: true });
  set.text(
    `The statement is attached to this PDF as ${STATEMENT_ATTACHMENT}, signed as a JSON Web Signature (RFC 7515, ES256). The check, a page that needs no network, takes this PDF or that file. Compare the fingerprint of the key with the one the office gives you by another way:`,
  );
  set.text(inGroups(await thumbprint(key)));
  set.number((page, of) => `${title} · page ${page} of ${of}`);
  pdf.addAttachment(STATEMENT_ATTACHMENT, statementFile(file), {
    description: 'The signed statement',
    mimeType: 'application/json',
    createdAt: new Date(statement.madeAt),
    modifiedAt: new Date(statement.madeAt),
  });
  // Uncompressed, so that the check finds the statement without a PDF reader.
  return new Uint8Array(await pdf.save({ compressStreams: false }));
}
