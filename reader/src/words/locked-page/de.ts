import { type LockedPageWords } from './en';

export const catalogue: LockedPageWords = {
  title: 'Eine verschlossene Datei',
  intro:
    'Sie öffnet sich in diesem Browser mit dem Passwort, das man Ihnen gegeben hat. Nichts wird irgendwohin gesendet, und es braucht kein Netz.',
  password: 'Passwort',
  show: 'Passwort zeigen',
  open: 'Öffnen',
  opening: 'Wird geöffnet …',
  wrong: 'Dieses Passwort öffnet sie nicht. Großbuchstaben, Leerzeichen und Striche zählen.',
  damaged:
    'Diese Datei ist beschädigt: ein Teil fehlt oder wurde verändert. Bitten Sie darum, sie noch einmal zu senden.',
  tooOld: 'Dieser Browser ist zu alt, um sie zu öffnen. Nehmen Sie einen neueren.',
  files: 'Dateien',
  save: 'Speichern',
  saveAll: 'Alle speichern',
  stays: 'Schließen Sie das Fenster, wenn Sie gelesen haben. Die Datei selbst bleibt verschlossen.',
};
