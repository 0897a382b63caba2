/**
 * The note around a locked file: what it is, how its password comes, how to open it. Made from the office's template
 * and nothing of the message, so that the server can make it again.
 */
import { fillText } from '../../notice/look';
import { cleanName, type Correspondent } from '../../people/address';
import { type Language, LANGUAGES } from '../../language';
import { type CoverTemplates } from './cover-rules';
import { type Container, OWN_EXTENSION, type Telling, TELLINGS } from '../../ways/file-way';
import { catalogue as en } from './words/en';
import { catalogue as de } from './words/de';
import { catalogue as pt } from './words/pt';
import { catalogue as fr } from './words/fr';
import { catalogue as es } from './words/es';
import { catalogue as it } from './words/it';
import { catalogue as nl } from './words/nl';
import { catalogue as pl } from './words/pl';
import { catalogue as ar } from './words/ar';
import { type CoverWords } from './words/cover-words';

const catalogues: Record<Language, CoverWords> = { en, de, pt, fr, es, it, nl, pl, ar };
export const coverWords = (language: Language): CoverWords => catalogues[language];

export const ourTemplate = (language: Language): string => catalogues[language].template;

export interface Cover {
  sender: Correspondent;
  recipient: Correspondent;
  officeName: string;
  /** The name it has in the mail. */
  fileName: string;
  container: Container;
  telling: Telling;
  language: Language;
  templates: CoverTemplates;
}

const extensionOf = (name: string): string => name.slice(name.lastIndexOf('.') + 1);

export function coverText({
  sender,
  recipient,
  officeName,
  fileName,
  container,
  telling,
  language,
  templates,
}: Cover): string {
  const words = catalogues[language];
  const name = cleanName(sender.name) || sender.address;
  const [extension, own] = [extensionOf(fileName), OWN_EXTENSION[container]];
  const open = [...(extension === own ? [] : [words.rename(extension, own)]), words.open[container]].join('\n');
  return fillText(templates[language] ?? words.template, {
    recipient: cleanName(recipient.name) || words.nobody,
    sender: name,
    address: sender.address,
    office: officeName,
    file: fileName,
    password: words.password[telling](name),
    open,
  }).replace(/ {1,20}([,.\n])/g, '$1');
}

const linesOf = (text: string): string => text.replace(/\r\n/g, '\n').trimEnd();

/** Whether a text is that note and nothing else, in any of our languages and with any way of telling the password. */
export const isCover = (text: string, about: Omit<Cover, 'telling' | 'language'>): boolean =>
  LANGUAGES.some((language) =>
    TELLINGS.some((telling) => linesOf(coverText({ ...about, telling, language })) === linesOf(text)),
  );
