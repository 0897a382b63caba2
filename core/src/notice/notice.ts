/**
 * The notice: the only thing that is mailed to a reader. It says who wrote, to whom, until when and what to do, and
 * nothing of the content.
 * Built here and nowhere else, byte for byte the same from the same input, so that what left can be shown and checked
 * afterwards.
 */
import { type Bytes } from '../bytes';
import { escapeHtml } from '../escape-html';
import { type WayKnown } from '../handling/handling';
import { buildMessage } from '../message/build';
import { type MessageContent } from '../message/content';
import { cleanName, type Correspondent } from '../people/address';
import { type Language, spokenIn } from '../language';
import { fillText, type NoticeLook, type NoticePart, type NoticeTexts, OUR_COLOUR } from './look';
import { type NoticeWords } from './words/notice-words';
import { dateInWords, noticeWords } from './words';

export interface Notice {
  /** Without angle brackets; its domain is the office's. */
  messageId: string;
  date: Date;
  officeName: string;
  sender: Correspondent;
  /** The office's own mailbox, when the sender is somebody outside whose address must not be borrowed. */
  from?: Correspondent;
  /** The reader who named this recipient. */
  passedOnBy?: Correspondent;
  recipient: Correspondent;
  closesAt: Date;
  zone: string;
  check: { kind: Exclude<WayKnown, 'account'>; hint: string; question: boolean };
  link: string;
  /** The sealed content comes along as a carried page, to which `link` then leads. */
  carried?: { /** Another ending for its file's name, for gateways that refuse the usual one. */ extension?: string };
  language: string;
  /** It says that answers belong there and not into a mail. */
  answerThere?: boolean;
  /** The office's own words and colour; ours when there are none. */
  look?: NoticeLook;
}

const inLines = (text: string): string => escapeHtml(text).replace(/\n/g, '<br>');

function checkSentence({ kind, hint }: Notice['check'], words: NoticeWords): string {
  switch (kind) {
    case 'text':
      return words.checkByText(hint);
    case 'email':
      return words.checkByEmail(hint);
    case 'voice':
      return words.checkByVoice(hint);
    case 'question':
      return words.checkByQuestion;
    case 'told':
      return words.checkByTold;
    case 'password':
      return words.checkByPassword;
  }
}

/** Our words for the parts that an office may word itself, with the same places to fill. */
export function ourTexts(language: Language): NoticeTexts {
  const words = noticeWords(language);
  return {
    subject: words.subject('{sender}'),
    greeting: words.greeting('{recipient}'),
    opening: words.opening('{sender}', '{address}', '{office}'),
    doubt: words.whyALink,
    foot: '{office}',
    outer: words.outerSubject('{office}'),
  };
}

/**
 * The parts in the office's words where it has them. Replies of readers, what was passed on and carried pages open in
 * ours: the office could not know how they read.
 */
function partsOf(notice: Notice, words: NoticeWords, senderName: string): Omit<NoticeTexts, 'outer'> {
  const { passedOnBy, recipient, sender, officeName } = notice;
  const own = notice.look?.texts[notice.language as Language];
  const fill = (part: NoticePart): string | undefined =>
    own === undefined
      ? undefined
      : fillText(own[part], {
          sender: senderName,
          address: sender.address,
          recipient: recipient.name,
          office: officeName,
        });
  const opening = (): string => {
    if (notice.carried !== undefined) return words.openingCarried(senderName, sender.address, officeName);
    if (passedOnBy !== undefined)
      return words.openingPassedOn(passedOnBy.name || passedOnBy.address, passedOnBy.address, senderName, officeName);
    return notice.from === undefined
      ? (fill('opening') ?? words.opening(senderName, sender.address, officeName))
      : words.openingOfReply(senderName, sender.address, officeName);
  };
  return {
    opening: opening(),
    subject: fill('subject') ?? words.subject(senderName),
    // Without a name a greeting made for one would have a gap.
    greeting: (recipient.name === '' ? undefined : fill('greeting')) ?? words.greeting(recipient.name),
    doubt: fill('doubt') ?? words.whyALink,
    foot: fill('foot') ?? officeName,
  };
}

/**
 * What stands outside of an encrypted mail in the place of its subject: in the office's words where it has them. Pure.
 */
export function outerSubject(language: Language, officeName: string, look?: NoticeLook): string {
  const own = look?.texts[language];
  return own === undefined
    ? noticeWords(language).outerSubject(officeName)
    : fillText(own.outer, { sender: '', address: '', recipient: '', office: officeName });
}

export const senderNameOf = ({ sender }: Notice): string => (sender.name === '' ? sender.address : sender.name);

export function noticeText(notice: Notice): { subject: string; text: string; html: string } {
  const words = noticeWords(notice.language);
  const { check, carried } = notice;
  // The share travels in the page only.
  const link = carried === undefined ? notice.link : notice.link.replace(/#.*/, '');
  const [openHere, openButton] =
    carried === undefined
      ? [words.openHere, words.openButton]
      : [words.carriedHere(carried.extension), words.carriedButton];
  const senderName = senderNameOf(notice);
  const parts = partsOf(notice, words, senderName);
  const sayCheck = `${checkSentence(check, words)}${check.question && check.kind !== 'question' ? ` ${words.alsoQuestion}` : ''}`;
  const paragraphs = [
    parts.opening,
    `${words.until(dateInWords(notice.closesAt, notice.zone, notice.language))} ${sayCheck}`,
  ];
  const text = [
    parts.greeting,
    ...paragraphs,
    `${openHere}\n${link}`,
    ...(notice.answerThere === true ? [words.answerThere] : []),
    check.kind === 'password' ? words.notForYouRegistered : words.notForYou,
    parts.doubt,
    parts.foot,
  ].join('\n\n');
  const paragraph = (content: string): string => `<p style="margin:0 0 16px">${content}</p>`;
  const html = [
    `<!doctype html><html ${spokenIn(words.language)}><body style="margin:0;padding:24px;background:#F4EFE6;color:#1B2421;font:16px/24px sans-serif">`,
    '<div style="max-width:560px;margin:0 auto;padding:24px;background:#FFFDF8;border:1px solid #D8D0C0">',
    paragraph(escapeHtml(parts.greeting)),
    ...paragraphs.map((one) => paragraph(inLines(one))),
    ...(carried === undefined ? [] : [paragraph(escapeHtml(openHere))]),
    paragraph(
      `<a href="${escapeHtml(link)}" style="display:inline-block;padding:12px 20px;background:${notice.look?.colour ?? OUR_COLOUR};color:#FFFFFF;text-decoration:none">${escapeHtml(openButton)}</a>`,
    ),
    ...(notice.answerThere === true ? [paragraph(escapeHtml(words.answerThere))] : []),
    paragraph(escapeHtml(check.kind === 'password' ? words.notForYouRegistered : words.notForYou)),
    `<p style="margin:0;color:#53605A">${inLines(parts.doubt)}<br>${inLines(parts.foot)}</p>`,
    '</div></body></html>',
  ].join('\n');
  return { subject: parts.subject, text, html };
}

/** The notice as it goes over SMTP, with what travels along. @throws HeaderInjectionError */
export function noticeMail(notice: Notice, files: MessageContent['files']): Bytes {
  const { subject, text, html } = noticeText(notice);
  return buildMessage({
    messageId: notice.messageId,
    from: notice.from ?? notice.sender,
    to: [{ name: cleanName(notice.recipient.name), address: notice.recipient.address }],
    cc: [],
    subject,
    date: notice.date,
    reference: '',
    text,
    html,
    files,
  });
}

interface CodeMail extends Omit<PlainMail, 'to'> {
  to: string;
  code: string;
  minutes: number;
}
const toAddress = (mail: CodeMail): PlainMail => ({ ...mail, to: { name: '', address: mail.to } });

/** The mail that carries a passcode to a second address. */
export function buildPasscodeMail(mail: CodeMail): Bytes {
  const words = noticeWords(mail.language);
  return plainMail(toAddress(mail), words.passcodeSubject(mail.code), [
    words.passcode(mail.code, mail.officeName, mail.minutes),
  ]);
}

export const passcodeText = (code: string, officeName: string, minutes: number, language: string): string =>
  noticeWords(language).passcode(code, officeName, minutes);

/** The mail that carries the digits which prove that a mailbox is somebody's own. */
export function buildMailboxCodeMail(mail: CodeMail): Bytes {
  const words = noticeWords(mail.language);
  return plainMail(toAddress(mail), words.mailboxCodeSubject(mail.code), [
    words.mailboxCode(mail.code, mail.officeName, mail.minutes),
  ]);
}

/** Tells somebody that it was chosen how they get what comes next. */
export function buildChoiceMail(mail: PlainMail & { /** The link that takes it back. */ takeBack?: string }): Bytes {
  const words = noticeWords(mail.language);
  return plainMail(mail, words.choiceSubject, [
    words.choice(mail.officeName),
    ...(mail.takeBack === undefined ? [] : [words.choiceBack, mail.takeBack]),
  ]);
}

/** What a call says: each digit by itself. */
export const passcodeCall = (code: string, officeName: string, language: string): string =>
  noticeWords(language).passcodeCall([...code].join(', '), officeName);

interface PlainMail {
  messageId: string;
  date: Date;
  officeName: string;
  from: Correspondent;
  to: Correspondent;
  language: string;
}

const plainMail = ({ messageId, date, from, to }: PlainMail, subject: string, paragraphs: string[]): Bytes =>
  buildMessage({
    messageId,
    from,
    to: [{ name: cleanName(to.name), address: to.address }],
    cc: [],
    subject,
    date,
    reference: '',
    text: paragraphs.join('\n\n'),
    html: '',
    files: [],
  });

/** That something was left in a mail slot. It names nothing of it but its number. */
export function buildSlotReceipt(mail: PlainMail & { slot: string; number: string }): Bytes {
  const words = noticeWords(mail.language);
  return plainMail(mail, words.slotReceiptSubject(mail.number), [
    words.slotReceipt(mail.slot, mail.officeName, mail.number),
    words.slotAnswer,
    mail.officeName,
  ]);
}

/** Reminds of a notice. It has no link: nobody but the notice has it. */
export function buildReminder(
  mail: PlainMail & { sender: Correspondent; closesAt: Date; zone: string; noticeAt: Date },
): Bytes {
  const words = noticeWords(mail.language);
  const sender = mail.sender.name || mail.sender.address;
  return plainMail(mail, words.reminderSubject(sender), [
    words.greeting(mail.to.name),
    words.reminder(sender, dateInWords(mail.noticeAt, mail.zone, mail.language)),
    words.until(dateInWords(mail.closesAt, mail.zone, mail.language)),
    words.notForYou,
    mail.officeName,
  ]);
}

/** Tells somebody of the office that messages wait for them: how many, and nothing else. */
export function buildWaiting(mail: PlainMail & { count: number; link: string }): Bytes {
  const words = noticeWords(mail.language);
  return plainMail(mail, words.waitingSubject(mail.officeName), [
    words.greeting(mail.to.name),
    words.waiting(mail.count),
    mail.link,
    mail.officeName,
  ]);
}

/** Tells somebody of the office that a mail from their mail program has not left, and what it needs. */
export function buildHandedWaits(mail: PlainMail & { sentence: string; link: string }): Bytes {
  const words = noticeWords(mail.language);
  return plainMail(mail, words.handedSubject(mail.officeName), [
    words.greeting(mail.to.name),
    words.handed,
    mail.sentence,
    mail.link,
    mail.officeName,
  ]);
}

/** Tells a worker what their mail programs sent. */
export const buildLeft = (mail: PlainMail & { subject: string; sentences: readonly string[]; link: string }): Bytes =>
  plainMail(mail, mail.subject, [
    noticeWords(mail.language).greeting(mail.to.name),
    ...mail.sentences,
    mail.link,
    mail.officeName,
  ]);

/** Reminds somebody of the office that their certificate runs out. */
export function buildRunsOut(mail: PlainMail & { at: Date; zone: string; link: string }): Bytes {
  const words = noticeWords(mail.language);
  const date = dateInWords(mail.at, mail.zone, mail.language);
  return plainMail(mail, words.runsOutSubject(date), [
    words.greeting(mail.to.name),
    words.runsOut(date, mail.officeName),
    mail.link,
    mail.officeName,
  ]);
}

/** Shows whoever asked for it that mail leaves the office. */
export function buildTried(mail: PlainMail & { link: string }): Bytes {
  const words = noticeWords(mail.language);
  return plainMail(mail, words.triedSubject(mail.officeName), [
    words.greeting(mail.to.name),
    words.tried(mail.officeName),
    mail.link,
    mail.officeName,
  ]);
}

/** Tells the sender that somebody opened what they sent, and nothing of what it was. */
export function buildReceipt(
  mail: PlainMail & { reader: Correspondent; openedAt: Date; zone: string; reference: string; link: string },
): Bytes {
  const words = noticeWords(mail.language);
  const reader = mail.reader.name || mail.reader.address;
  return plainMail(mail, words.receiptSubject(reader), [
    words.greeting(mail.to.name),
    words.receipt(reader, mail.reader.address, dateInWords(mail.openedAt, mail.zone, mail.language), mail.reference),
    mail.link,
    mail.officeName,
  ]);
}

/** Tells somebody of the office which rules acted on what somebody else sent; nothing of what it says. */
export function buildRuleMail(
  mail: PlainMail & {
    sender: string;
    people: number;
    rules: readonly string[];
    sentAt: Date;
    zone: string;
    reference: string;
  },
): Bytes {
  const words = noticeWords(mail.language);
  const rules = mail.rules.map((name) => `“${name}”`).join(', ');
  return plainMail(mail, words.ruleSubject(mail.sender), [
    words.greeting(mail.to.name),
    words.rule(mail.sender, mail.people, rules, dateInWords(mail.sentAt, mail.zone, mail.language), mail.reference),
    mail.officeName,
  ]);
}

/** Asks somebody of the office to look at what somebody else wrote; nothing of what it says. */
export function buildReleaseAsked(
  mail: PlainMail & { sender: string; people: number; rules: readonly string[]; link: string },
): Bytes {
  const words = noticeWords(mail.language);
  const rules = mail.rules.map((name) => `“${name}”`).join(', ');
  return plainMail(mail, words.releaseSubject(mail.sender), [
    words.greeting(mail.to.name),
    words.release(mail.sender, mail.people, rules),
    mail.link,
    mail.officeName,
  ]);
}

/** Tells a sender what a message that waited has come to. */
export function buildReleaseEnded(
  mail: PlainMail & {
    end: 'let-go' | 'sent-back';
    by: string | undefined;
    askedAt: Date;
    zone: string;
    link: string;
  },
): Bytes {
  const words = noticeWords(mail.language);
  return plainMail(mail, words.releasedSubject(mail.end), [
    words.greeting(mail.to.name),
    words.released(mail.end, mail.by, dateInWords(mail.askedAt, mail.zone, mail.language)),
    mail.link,
    mail.officeName,
  ]);
}
