import { type Bytes, utf8 } from '../../../bytes';
import { sealJwe } from '../../../jose/jwe';
import { blocksOf } from '../../../message/blocks';
import { type MessageContent } from '../../../message/content';
import { distinctNames, safeFileName } from '../../../file-name';
import { writeZip } from '../../../zip/write';
import { coverWords } from '../cover';
import { headPairs, messagePage, type PageSettings } from '../message-page';
import { type Scope } from '../../../ways/file-way';
import { filledPage, MESSAGE_JSON, type PageMessage } from './format';

/**
 * A message, or only its files, as a page that opens itself. `template` is the page as it is built, without content.
 */
export async function sealPage(
  message: MessageContent,
  password: string,
  scope: Scope,
  settings: PageSettings,
  template: string,
): Promise<Bytes> {
  const shown: PageMessage =
    scope === 'files'
      ? { subject: '', head: [], blocks: [] }
      : { subject: message.subject, head: headPairs(message, settings), blocks: blocksOf(message) };
  const files = [
    { name: MESSAGE_JSON, bytes: utf8(JSON.stringify(shown)) },
    ...(scope === 'files'
      ? []
      : [{ name: `${coverWords(settings.language).messageName}.html`, bytes: utf8(messagePage(message, settings)) }]),
    ...message.files.map(({ name, bytes }) => ({ name: `files/${safeFileName(name)}`, bytes })),
  ];
  const names = distinctNames(files.map(({ name }) => name));
  const zip = await writeZip({
    files: files.map(({ bytes }, index) => ({ name: names[index]!, bytes })),
    lock: undefined,
    date: message.date,
    isPacked: () => true,
  });
  return utf8(filledPage(template, await sealJwe(zip, password, 'application/zip'), settings.language));
}
