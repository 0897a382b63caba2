import { type CoverWords } from './cover-words';

export const catalogue: CoverWords = {
  template: `Dear {recipient},

{sender} ({address}) of {office} sends you a locked file: {file}. {password}

{open}

You did not expect this? Ring the sender on a number you already know before you open it.

{office}`,
  nobody: 'reader',
  password: {
    phone: (sender) => `${sender} tells you its password on the phone; it never comes by mail.`,
    text: () => 'Its password comes to your phone as a text message; it never comes by mail.',
    agreed: (sender) => `It opens with the password that you and ${sender} have agreed; it never comes by mail.`,
  },
  open: {
    zip: `How to open it
On a computer: save the file and open it; you are asked for the password. If your computer says it can’t, any unpacking program that reads ZIP files with AES opens it.
On a phone: save it to your files and tap it. If nothing asks for a password, open it on a computer.`,
    pdf: `How to open it
On a computer or a phone: open it with any program that shows PDF files; you are asked for the password. The files that belong to it are attachments inside: look for the list of attachments.`,
    page: `How to open it
On a computer or a phone: save the file, and open it in your browser. It asks for the password and shows text and files by itself; nothing has to be installed, and it works without a network.`,
  },
  rename: (from, to) =>
    `First of all: its name ends in “.${from}”, because some mail gateways refuse the usual ending. Save it and change the ending to “.${to}”.`,
  text: (sender, office, password) => `Password for the locked file from ${sender}, ${office}: ${password}`,
  packed: 'The files are only packed to travel together. They are not protected: anybody on their way can read them.',
  from: 'From',
  to: 'To',
  cc: 'Cc',
  date: 'Date',
  subject: 'Subject',
  reference: 'Reference',
  files: 'Files',
  messageName: 'Message',
};
