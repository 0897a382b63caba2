import { type Language } from '../../language';

/** Everything notices and passcodes say: a language is one of these. */
export interface NoticeWords {
  language: Language;
  subject(senderName: string): string;
  /** Outside of an encrypted mail, in the subject's place. */
  outerSubject(officeName: string): string;
  /** To somebody of the office whose certificate runs out. */
  runsOutSubject(date: string): string;
  runsOut(date: string, officeName: string): string;
  /** To whoever tries out whether mail leaves the office. */
  triedSubject(officeName: string): string;
  tried(officeName: string): string;
  /** Asks somebody for a signed message, so that their certificate comes with the answer. */
  requestSubject(senderName: string): string;
  requestText(recipientName: string, senderName: string, officeName: string): string;
  greeting(name: string): string;
  opening(senderName: string, senderAddress: string, officeName: string): string;
  /** When the sender is a reader who replied to all. */
  openingOfReply(senderName: string, senderAddress: string, officeName: string): string;
  /** The message travels in a file beside the mail. */
  openingCarried(senderName: string, senderAddress: string, officeName: string): string;
  /** `ending`: the file's name does not end in .html. */
  carriedHere(ending: string | undefined): string;
  carriedButton: string;
  /** The file's name without its ending. */
  carriedName: string;
  carriedTitle(senderName: string): string;
  carriedSays(officeName: string): string;
  carriedOtherwise(address: string): string;
  openingPassedOn(readerName: string, readerAddress: string, senderName: string, officeName: string): string;
  until(date: string): string;
  checkByText(hint: string): string;
  checkByEmail(hint: string): string;
  checkByVoice(hint: string): string;
  checkByQuestion: string;
  checkByTold: string;
  /** A registered reader signs in. */
  checkByPassword: string;
  alsoQuestion: string;
  openHere: string;
  openButton: string;
  /** Below it, where the message may be answered. */
  answerThere: string;
  notForYou: string;
  notForYouRegistered: string;
  whyALink: string;
  reminderSubject(senderName: string): string;
  /** `noticeDate` is when the notice with the link left. */
  reminder(senderName: string, noticeDate: string): string;
  handedSubject(officeName: string): string;
  /** Before the sentence that says what is missing. */
  handed: string;
  waitingSubject(officeName: string): string;
  waiting(count: number): string;
  ruleSubject(senderName: string): string;
  /** On what somebody else sent, rules of the office acted. */
  rule(senderName: string, people: number, rules: string, date: string, reference: string): string;
  /** Somebody of the office is asked to look at what somebody else wrote, and to let it go or not. */
  releaseSubject(senderName: string): string;
  release(senderName: string, people: number, rules: string): string;
  /** What their message came to; without a name nobody has decided in time. */
  releasedSubject(end: 'let-go' | 'sent-back'): string;
  released(end: 'let-go' | 'sent-back', by: string | undefined, date: string): string;
  receiptSubject(readerName: string): string;
  receipt(readerName: string, readerAddress: string, date: string, reference: string): string;
  passcodeSubject(code: string): string;
  passcode(code: string, officeName: string, minutes: number): string;
  mailboxCodeSubject(code: string): string;
  mailboxCode(code: string, officeName: string, minutes: number): string;
  slotReceiptSubject(number: string): string;
  slotReceipt(slot: string, officeName: string, number: string): string;
  slotAnswer: string;
  /** They chose how they get what comes next. */
  choiceSubject: string;
  /** Before the link that takes it back. */
  choiceBack: string;
  choice(officeName: string): string;
  /** Read out by a machine: digits apart, said twice. */
  passcodeCall(digits: string, officeName: string): string;
}
