/**
 * A message as a letter on paper (PDF), with its files attached inside; locked under a password where one is given:
 * AES-256, revision 6 (ISO 32000-2, §7.6.4).
 */
import { PDF } from '@libpdf/core';
import { type Bytes, randomBytes, toBase64Url, utf8 } from '../../bytes';
import { type Rights } from '../../handling/handling';
import { type Block, blocksOf } from '../../message/blocks';
import { type MessageContent } from '../../message/content';
import { distinctNames, safeFileName } from '../../file-name';
import { type Paper, type PaperFonts, Setter } from '../../pdf/setter';
import { coverWords } from './cover';
import { headPairs, type PageSettings } from './message-page';
import { type Scope } from '../../ways/file-way';

export interface LetterInput {
  message: MessageContent;
  scope: Scope;
  settings: PageSettings;
  fonts: PaperFonts;
  paper: Paper;
  /** Undefined for a letter that lies inside another container. */
  lock: { password: string; rights: Rights } | undefined;
  /** Attach the files; a letter beside its files has none. */
  withFiles: boolean;
}

/** More than 127 octets no reader takes (ISO 32000-2, 7.6.4.3.3). */
const MAX_PASSWORD = 127;

const HEADINGS = [18, 14, 12] as const;
const STEP = 18;

function setBlock(set: Setter, { kind, level, marker, runs }: Block): void {
  const styled = runs.map(({ text, bold, href }) => ({
    bold,
    text: href === undefined || text.includes(href.replace(/^mailto:/i, '')) ? text : `${text} (${href})`,
  }));
  switch (kind) {
    case 'rule':
      return set.gap();
    case 'heading':
      set.gap(0.5);
      set.runs(
        styled.map((run) => ({ ...run, bold: true })),
        { size: HEADINGS[level - 1] ?? 12 },
      );
      return set.gap(0.3);
    case 'item':
      return set.runs(styled, { indent: STEP * (level + 1), marker });
    case 'quote':
    case 'paragraph':
    case 'code':
      set.runs(styled, { indent: STEP * level, soft: kind === 'quote' });
      return set.gap(0.6);
  }
}

/** In the reader's language; in English where our letters on paper can't spell it. */
function drawnHead(set: Setter, message: MessageContent, settings: PageSettings): [string, string][] {
  const head = headPairs(message, settings);
  return head.every(([word]) => set.draws(word)) ? head : headPairs(message, { ...settings, language: 'en' });
}

/** Rights are marks in the file that programs keep to or not: they discourage. Reading aloud is never refused. */
const permissions = ({ print, copy }: Rights) => ({
  print,
  printHighQuality: print,
  copy,
  accessibility: true,
  modify: false,
  annotate: false,
  fillForms: false,
  assemble: false,
});

/** @throws RangeError on a password that would leave it open, or that readers refuse */
export async function setLetter({
  message,
  scope,
  settings,
  fonts,
  paper,
  lock,
  withFiles,
}: LetterInput): Promise<Bytes> {
  if (lock !== undefined && (lock.password === '' || utf8(lock.password.normalize('NFC')).length > MAX_PASSWORD))
    throw new RangeError(`A password of 1 to ${MAX_PASSWORD} octets`);
  const words = coverWords(settings.language);
  const pdf = PDF.create();
  const title = scope === 'files' ? words.files : message.subject;
  pdf.setTitle(title);
  const set = new Setter(pdf, fonts, paper);
  set.text(title, { bold: true, size: 18 });
  set.gap();
  if (scope === 'everything') {
    for (const [word, said] of drawnHead(set, message, settings))
      set.runs([
        { text: `${word}: `, bold: true },
        { text: said, bold: false },
      ]);
    set.gap();
    for (const block of blocksOf(message)) setBlock(set, block);
  }
  const names = distinctNames(message.files.map(({ name }) => safeFileName(name)));
  if (withFiles && scope === 'files') for (const name of names) set.text(name, { indent: STEP, marker: '•' });
  set.number((page, of) => `${page} / ${of}`);
  const date = { createdAt: message.date, modifiedAt: message.date };
  if (withFiles)
    for (const [index, { bytes, type }] of message.files.entries())
      pdf.addAttachment(names[index]!, bytes, { mimeType: type, ...date });
  // Nothing that was written is lost to a font: where a letter is missing the text lies beside as it is.
  if (set.lacksLetters && scope === 'everything')
    pdf.addAttachment(
      distinctNames([...names, `${words.messageName}.txt`]).at(-1)!,
      utf8(`${message.subject}\r\n\r\n${message.text}`),
      { mimeType: 'text/plain', ...date },
    );
  if (lock !== undefined)
    pdf.setProtection({
      algorithm: 'AES-256',
      userPassword: lock.password.normalize('NFC'),
      ownerPassword: toBase64Url(randomBytes(24)),
      permissions: permissions(lock.rights),
    });
  return new Uint8Array(await pdf.save({ compressStreams: false }));
}
