/** What goes into a locked file: the message in the form the other side can open, and its files as they are. */
import { type Bytes, utf8 } from '../../bytes';
import { buildMessage } from '../../message/build';
import { type MessageContent } from '../../message/content';
import { distinctNames, safeFileName } from '../../file-name';
import { type ZipFile } from '../../zip/write';
import { coverWords } from './cover';
import { messagePage, type PageSettings } from './message-page';
import { type MessageForm, type Scope } from '../../ways/file-way';

/** Sets the message as a letter; given by who has its fonts. */
export type LetterSetter = () => Promise<Bytes>;

async function messageFile(
  message: MessageContent,
  form: MessageForm,
  settings: PageSettings,
  letter: LetterSetter,
): Promise<ZipFile> {
  const name = coverWords(settings.language).messageName;
  switch (form) {
    case 'html':
      return { name: `${name}.html`, bytes: utf8(messagePage(message, settings)) };
    case 'eml':
      // The files lie beside it as they are, and not once more inside.
      return { name: `${name}.eml`, bytes: buildMessage({ ...message, files: [] }) };
    case 'pdf':
      return { name: `${name}.pdf`, bytes: await letter() };
  }
}

export async function contentsOf(
  message: MessageContent,
  { scope, form }: { scope: Scope; form: MessageForm },
  settings: PageSettings,
  letter: LetterSetter,
): Promise<ZipFile[]> {
  const files = message.files.map(({ name, bytes }) => ({ name: safeFileName(name), bytes }));
  const all = scope === 'files' ? files : [await messageFile(message, form, settings, letter), ...files];
  const names = distinctNames(all.map(({ name }) => name));
  return all.map(({ bytes }, index) => ({ name: names[index]!, bytes }));
}
