/** What the page says that asks for a carried page's file. */
export const catalogue = {
  title: (sender: string) => `${sender} has sent you a message in a file`,
  says: 'It is sealed in the file that came with the mail. Give it to this page: it stays in your browser and is sent nowhere.',
  until: (date: string, distance: string) => `It can be opened until ${date}, ${distance}.`,
  choose: 'Choose the file',
  orDrop: 'Or drop it anywhere on this page.',
  field: 'The file that came with the mail',
  looking: 'Taking the file over',
  notOurs: (name: string) =>
    `“${name}” is not a file of ours, or part of it is missing. Take the one that came with the mail; its name says “message-under-lock”. If that does not help, save it again from the mail.`,
  another: (name: string) => `“${name}” belongs to another message. Take the one from the same mail as this link.`,
  elsewhere: (name: string, where: string) =>
    `“${name}” belongs to the reading room of another office, at ${where}. Open it there.`,
  tooLarge: (name: string) => `“${name}” is too large to be a message of ours.`,
  noLink: (name: string) =>
    `“${name}” has lost part of its key on the way. Save it again from the mail, and ask the sender to send it again if that does not help.`,
};
export type CarriedWords = typeof catalogue;
