/** What a reader is told where they choose how they are written to. */
import { type GivenProblem } from '@under-lock/core/choosing/given';
import { type ChoiceWay } from '@under-lock/core/ways/chose';
import { type Container } from '@under-lock/core/ways/file-way';

export type ChosenWay = ChoiceWay | 'own' | 'made';

export const catalogue = {
  offer: 'How shall we write to you from now on?',
  offerHint: 'Here as today, as a locked file in your mailbox, or to a certificate or key of yours.',
  choose: 'Choose',
  back: 'Back to the message',
  title: 'How shall we write to you from now on?',
  change: 'You can change it below any message you read here.',
  stands: (what: string, date: string) => `Now: ${what}, chosen on ${date}.`,
  names: {
    room: 'Here, in the reading room',
    file: 'As a locked file',
    certificate: 'To my certificate',
    openpgp: 'To my OpenPGP key',
    own: 'To my certificate or key',
    made: 'Make a certificate for me',
  } satisfies Record<ChosenWay, string>,
  details: {
    room: 'Nothing to install. A passcode each time, or a password of your own, which you set below a message.',
    file: 'Comes into your mailbox; opens with a password you set now. We never see it.',
    own: 'Your mail program opens it by itself. You give us the public half.',
    made: 'About two minutes; then your mail program opens it by itself.',
  },
  kindOfFile: 'Kind of file',
  containers: {
    pdf: 'PDF: opens in any reader of PDFs',
    zip: 'ZIP: opens with an unpacking program',
    page: 'Page: opens in a browser',
  } satisfies Record<Container, string>,
  password: 'Password for what we send you',
  passwordAgain: 'The same once more',
  passwordHint: 'Several words that don’t belong together. Write it down: nobody here can look it up.',
  filePassword: 'Password for the certificate’s file',
  filePasswordHint: 'Letters without accents, digits and signs. Your mail program asks for it once.',
  show: 'Show',
  hide: 'Hide',
  passwordProblems: {
    'too-short': (least: number) => `At least ${least} characters.`,
    'too-long': (most: number) => `At most ${most} characters.`,
    'control-characters': () => 'It holds characters that cannot be seen; type it anew.',
    'blank-ends': () => 'It begins or ends with a space; type it anew.',
    differs: () => 'The two are not the same.',
    weak: () => 'Too easy to guess for a file that can be tried without end. Add a word or two.',
    'not-portable': () => 'Some mail programs spell accents otherwise: use letters without accents, digits and signs.',
  },
  tryFirst: 'Try it first',
  tryHint: 'A file with nothing in it was saved. Open it with your password; if that works here, keep this.',
  tryMailHint:
    'A mail with nothing in it was saved. Open it in your mail program; if you can read it there, keep this.',
  sampleSubject: 'A sample',
  sampleText: 'You have opened it. What we send you will come like this.',
  keep: 'Keep this',
  takeBack: 'Take my choice back',
  takenBack: 'Your choice is taken back. Whoever writes to you decides, as before.',
  backTitle: 'How we write to you',
  backHint:
    'If you take it back, whoever writes to you decides again. To choose something else, look below the next message you read here.',
  backGoneTitle: 'Nothing to take back',
  backGone: 'No choice stands under this link: it was taken back, or another one has taken its place since.',
  kept: 'Kept. What we write next comes this way, where what is written allows it; otherwise it waits here as today. We have told you so by mail.',
  notNow: (date: string) => `Not now: this message stays readable here until ${date}.`,
  give: 'Choose a file',
  paste: 'Or paste it here',
  pasteHint: 'The text between the lines that begin with “-----BEGIN”, with these lines.',
  given: (address: string, until: string | undefined) =>
    `Found for ${address}${until === undefined ? '' : `, valid until ${until}`}.`,
  givenProblems: {
    nothing: () => 'There is no certificate and no OpenPGP key in it. Export the public one from your mail program.',
    private: () =>
      'That holds your private key. Never give it to anybody; export the public one. Nothing of it was sent.',
    'other-address': (address: string) => `It is for another address than ${address}.`,
    'run-out': () => 'It has run out. Export a newer one.',
    revoked: () => 'It has been revoked. Export a newer one.',
    'not-for-mail': () => 'It is not made for encrypting mail.',
    'too-large': () => 'It is too large. Export only your own certificate or key.',
  } satisfies Record<GivenProblem, (address: string) => string>,
  make: 'Make it',
  madeHint:
    'The key is made on this device and leaves it only in a file under your password. The office’s authority signs the certificate.',
  made: (file: string) => `Made, and saved as ${file}. Take it into your mail program, then keep this.`,
  saveAgain: 'Save the file again',
  madeSteps: [
    'On a computer: open the file; the system asks for its password and keeps the certificate. Then choose it in your mail program’s settings for security or encryption.',
    'A mail program with a store of its own: settings, privacy or certificates, import; choose the file.',
    'On a phone: send yourself the file, open it there, and install the profile or certificate it offers.',
  ],
  failed: 'That did not work. Nothing was changed; try again.',
  offline: 'The line is down. Nothing is lost; try again when it is back.',
  closed: 'This message is not open to you any more. Ask whoever wrote it.',
  tooOften: (date: string) => `Too often for now. You can go on from ${date}.`,
  authorityAway: 'The certificate could not be made just now. Try again later, or choose another way.',
  notAscii: 'Certificates cannot be made for an address with such letters. Choose another way.',
};
export type ChooseWords = typeof catalogue;
