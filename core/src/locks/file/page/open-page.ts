/** Opens the inside of a self-opening page. Small, because the page itself carries it. */
import { fromUtf8 } from '../../../bytes';
import { openJwe } from '../../../jose/jwe';
import { storedFiles } from '../../../zip/directory';
import { MESSAGE_JSON, type PageMessage } from './format';

export interface PageContents {
  message: PageMessage;
  files: { name: string; bytes: Uint8Array }[];
}

const FILES = 'files/';

/** @throws JweError, ZipError, SyntaxError */
export async function openSealed(jwe: string, password: string): Promise<PageContents> {
  const entries = storedFiles(await openJwe(jwe.trim(), password));
  const message = entries.find(({ name }) => name === MESSAGE_JSON);
  return {
    message:
      message === undefined
        ? { subject: '', head: [], blocks: [] }
        : (JSON.parse(fromUtf8(message.bytes)) as PageMessage),
    files: entries
      .filter(({ name }) => name.startsWith(FILES))
      .map(({ name, bytes }) => ({ name: name.slice(FILES.length), bytes })),
  };
}
