/** What the self-opening page says. */
export const catalogue = {
  title: 'A locked file',
  intro:
    'It opens in this browser with the password you have been given. Nothing is sent anywhere, and no network is needed.',
  password: 'Password',
  show: 'Show the password',
  open: 'Open',
  opening: 'Opening …',
  wrong: 'This password does not open it. Capitals, spaces and dashes count.',
  damaged: 'This file is damaged: part of it is missing or was changed. Ask for it to be sent again.',
  tooOld: 'This browser is too old to open it. Use a newer one.',
  files: 'Files',
  save: 'Save',
  saveAll: 'Save all',
  stays: 'Close the window when you have read it. The file itself stays locked.',
};
export type LockedPageWords = typeof catalogue;
