/** The notice of an access as it leaves, with the carried page where the content travels along. */
import { type Bytes } from '../../bytes';
import { type MessageFile } from '../../message/content';
import { noticeWords } from '../../notice/words';
import { type Notice, noticeMail, senderNameOf } from '../../notice/notice';
import { carriedPage } from './page';

function carriedFile(notice: Notice, sealed: Uint8Array): MessageFile {
  const words = noticeWords(notice.language);
  return {
    name: `${words.carriedName}.${notice.carried?.extension ?? 'html'}`,
    type: 'text/html',
    bytes: carriedPage({
      senderName: senderNameOf(notice),
      officeName: notice.officeName,
      link: notice.link,
      sealed,
      words,
    }),
  };
}

/** `sealed` is the content as the server holds it, for a carried page. @throws HeaderInjectionError */
export function buildNotice(notice: Notice, sealed?: Uint8Array): Bytes {
  if ((notice.carried === undefined) !== (sealed === undefined))
    throw new Error('A carried page needs its content, and no other notice has any');
  return noticeMail(notice, sealed === undefined ? [] : [carriedFile(notice, sealed)]);
}
