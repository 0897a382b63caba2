import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('en');
const minutesWord = (minutes: number): string => counted(minutes, { one: '# minute', other: '# minutes' });

export const catalogue: NoticeWords = {
  language: 'en',
  outerSubject: (office) => `A confidential message from ${office}`,
  runsOutSubject: (date) => `Your certificate runs out on ${date}`,
  runsOut: (date, office) =>
    `Your certificate for signing and encrypting mail at ${office} runs out on ${date}. Renew it before, under Keys: a new one is made, and the old one is kept for reading. Do it yourself in Under Lock; nobody will ever ask you for it by a link to another place.`,
  triedSubject: (office) => `Mail leaves ${office}`,
  tried: (office) =>
    `You have asked Under Lock at ${office} to send you this mail. It has arrived, so notices can leave, too. Was it in your junk folder? Then publish the records that stand under Office, so that mail hosts can tell your mail from somebody else’s.`,
  requestSubject: (sender) => `${sender} asks you for a signed message`,
  requestText: (name, sender, office) => `${name === '' ? 'Good day,' : `Dear ${name},`}

I would like to write to you confidentially, straight into your mail program. For that I need your certificate or your OpenPGP key, and the simplest way is a signed message from you.

This is how:
1. Answer this message.
2. Before you send it, switch on signing. Most mail programs have it in the window where you write, as “Sign” or “Sign digitally”.
3. Send it. You need not write anything.
If you use OpenPGP, attach your public key.

If your program has no such switch, you have no certificate yet. Just answer that you have none, and I will choose another way.

This message is signed itself, so your program can show you that it is from me.

${sender}
${office}`,
  subject: (sender) => `${sender} has left a message for you to read`,
  greeting: (name) => (name === '' ? 'Good day,' : `Dear ${name},`),
  opening: (sender, address, office) =>
    `${sender} (${address}) of ${office} has written to you. The message is held in our reading room and is not in this mail.`,
  openingOfReply: (sender, address, office) =>
    `${sender} (${address}) has replied to all who read a message of ${office}. The reply is held in our reading room and is not in this mail.`,
  openingCarried: (sender, address, office) =>
    `${sender} (${address}) of ${office} has written to you. The message is in the file that comes with this mail, under lock; it opens in our reading room once you have proven who you are.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'Open the file and press its button. Where it does not open, go to this page and give it the file:'
      : `Save the file. Its name ends in “.${ending}” so that it gets through: rename it to end in “.html”, and open it. Or go to this page and give it the file as it is:`,
  carriedButton: 'To the reading room',
  carriedName: 'message-under-lock',
  carriedTitle: (sender) => `A message from ${sender}, under lock`,
  carriedSays: (office) =>
    `It is sealed in this file. ${office} keeps one half of its key: press the button, prove who you are, and it opens in our reading room. This needs a connection. The sender can close the message or withdraw it; after that the file opens no more.`,
  carriedOtherwise: (address) => `If nothing happens, go to ${address} and give this file to that page.`,
  openingPassedOn: (reader, address, sender, office) =>
    `${reader} (${address}) has passed on to you a message from ${sender} of ${office}, who allows that. The message is held in our reading room and is not in this mail.`,
  until: (date) => `You can read it until ${date}.`,
  checkByText: (hint) => `When you open it, we send a passcode by text message to the phone ending in ${hint}.`,
  checkByEmail: (hint) => `When you open it, we send a passcode to your other address, ${hint}.`,
  checkByVoice: (hint) => `When you open it, we call the phone ending in ${hint} and read a passcode out.`,
  checkByTold: 'When you open it, you are asked for a one-time password that the sender tells you by another way.',
  checkByQuestion: 'When you open it, you are asked a question whose answer you and the sender know.',
  checkByPassword: 'You have set a password with us: sign in with it to read. This link alone opens nothing.',
  alsoQuestion: 'You are also asked a question whose answer you and the sender know.',
  openHere: 'Open it here:',
  openButton: 'Open the message',
  answerThere: 'Please answer there: an answer to this mail could be read by others on its way.',
  notForYou: 'If this is not for you, open nothing and delete this mail: without the passcode nobody can read it.',
  notForYouRegistered: 'If this is not for you, delete this mail: without the password nobody can read it.',
  whyALink: 'You did not expect this? Ring the sender on a number you already know before you open it.',
  reminderSubject: (sender) => `Not read yet: a message from ${sender}`,
  reminder: (sender, date) =>
    `${sender} left a message for you that you have not opened. Its link is in our mail of ${date}; we don’t keep it and can’t repeat it here.`,
  ruleSubject: (sender) => `A rule acted on a message from ${sender}`,
  rule: (sender, people, rules, date, reference) =>
    `${sender} sent a message to ${counted(people, { one: '# person', other: '# people' })} on ${date}${reference === '' ? '' : `, with the reference ${reference}`}. What acted on it: ${rules}. This mail does not say what it is about.`,
  releaseSubject: (sender) => `A message from ${sender} waits for release`,
  release: (sender, people, rules) =>
    `${sender} has written to ${counted(people, { one: '# person', other: '# people' })}, and the office’s rules want somebody else to look at it before it leaves: ${rules}. Release it, or send it back with a sentence. This mail does not say what it is about.`,
  releasedSubject: (end) => (end === 'let-go' ? 'Your message has been released' : 'Your message has been sent back'),
  released: (end, by, date) =>
    by === undefined
      ? `Nobody has decided about the message that you handed over on ${date}, so it has not left. It is a draft again.`
      : end === 'let-go'
        ? `${by} has looked at the message that you handed over on ${date} and released it.`
        : `${by} has looked at the message that you handed over on ${date} and sent it back to you. It has not left; why, you read where it waited.`,
  receiptSubject: (reader) => `${reader} has opened your message`,
  receipt: (reader, address, date, reference) =>
    `${reader} (${address}) opened your message${reference === '' ? '' : ` with the reference ${reference}`} for the first time on ${date}.`,
  handedSubject: (office) => `A mail of yours waits at ${office}`,
  handed: 'You sent it from your mail program. It has not left, and nobody has got it yet. What it still needs:',
  waitingSubject: (office) => `Something is held for you at ${office}`,
  waiting: (count) =>
    `${counted(count, { one: 'A message is', other: '# messages are' })} held for you, and you have not been here since. Sign in to read; this mail does not say what it is or from whom.`,
  passcodeSubject: (code) => `${code} is your passcode`,
  passcode: (code, office, minutes) =>
    `${code} is your passcode for the message from ${office}. It works once, for ${minutesWord(minutes)}. We never ask for it by phone.`,
  mailboxCodeSubject: (code) => `${code} confirms your address`,
  mailboxCode: (code, office, minutes) =>
    `${code} confirms that this mailbox is yours, for your password in the reading room of ${office}. It works once, for ${minutesWord(minutes)}. You did not ask for it? Then do nothing: without it nothing changes.`,
  choiceSubject: 'How we write to you from now on',
  choice: (office) =>
    `In the reading room of ${office} it was chosen how we write to you from now on. You can choose again below any message you read there. Whoever writes to you sees the choice before anything is sent.`,
  choiceBack: 'Was it not you, or do you no longer want it? This takes it back; nobody reads answers to this mail:',
  slotReceiptSubject: (number) => `Received: ${number}`,
  slotReceipt: (slot, office, number) =>
    `What you left for ${slot} at ${office} has arrived under lock. Its number is ${number}.`,
  slotAnswer:
    'An answer comes to this mailbox as a notice of the reading room. It may ask for the answer code that was shown when you left it; we don’t have that code and can’t send it.',
  passcodeCall: (digits, office) =>
    `This is a call from the reading room of ${office}. Your passcode is: ${digits}. Once more: ${digits}. Nobody from ${office} will ever ask you for it.`,
};
