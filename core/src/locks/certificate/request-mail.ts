/**
 * The mail that asks somebody for a signed message. Its words are fixed, so that the server can tell it from any other
 * mail that is signed and readable.
 */
import { type MessageContent } from '../../message/content';
import { noticeWords } from '../../notice/words';
import { type Correspondent } from '../../people/address';
import { type Language, LANGUAGES } from '../../language';

export interface RequestMail {
  sender: Correspondent;
  recipient: Correspondent;
  officeName: string;
  language: Language;
}

export function requestContent({
  sender,
  recipient,
  officeName,
  language,
}: RequestMail): Pick<MessageContent, 'from' | 'to' | 'cc' | 'subject' | 'text' | 'html' | 'files' | 'reference'> {
  const words = noticeWords(language);
  const name = sender.name === '' ? sender.address : sender.name;
  return {
    from: sender,
    to: [recipient],
    cc: [],
    subject: words.requestSubject(name),
    text: words.requestText(recipient.name, name, officeName),
    html: '',
    files: [],
    reference: '',
  };
}

const linesOf = (text: string): string => text.replace(/\r\n/g, '\n').trimEnd();

/** Whether a mail says just that and nothing else, in any of our languages. */
export function isRequest(
  { subject, text, html, files }: Pick<MessageContent, 'subject' | 'text' | 'html' | 'files'>,
  about: Omit<RequestMail, 'language'>,
): boolean {
  return (
    html === '' &&
    files.length === 0 &&
    LANGUAGES.some((language) => {
      const asked = requestContent({ ...about, language });
      return asked.subject === subject && linesOf(asked.text) === linesOf(text);
    })
  );
}
