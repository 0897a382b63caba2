/** What the self-opening page says, in each language of the notices. */
export interface LockedPageWords {
  title: string;
  intro: string;
  password: string;
  show: string;
  open: string;
  opening: string;
  wrong: string;
  damaged: string;
  tooOld: string;
  files: string;
  save: string;
  saveAll: string;
  stays: string;
}

export const lockedPageWords: Record<'en' | 'de' | 'pt', LockedPageWords> = {
  en: {
    title: 'A locked file',
    intro:
      'It opens in this browser with the password you have been given. Nothing is sent anywhere, and no network is needed.',
    password: 'Password',
    show: 'Show the password',
    open: 'Open',
    opening: 'Opening …',
    wrong: 'This password does not open it. Capitals count; words are joined by dashes.',
    damaged: 'This file is damaged: part of it is missing or was changed. Ask for it to be sent again.',
    tooOld: 'This browser is too old to open it. Use a newer one.',
    files: 'Files',
    save: 'Save',
    saveAll: 'Save all',
    stays: 'Close the window when you have read it. The file itself stays locked.',
  },
  de: {
    title: 'Eine verschlossene Datei',
    intro:
      'Sie öffnet sich in diesem Browser mit dem Passwort, das man Ihnen gegeben hat. Nichts wird irgendwohin gesendet, und es braucht kein Netz.',
    password: 'Passwort',
    show: 'Passwort zeigen',
    open: 'Öffnen',
    opening: 'Wird geöffnet …',
    wrong: 'Dieses Passwort öffnet sie nicht. Großbuchstaben zählen; Wörter sind mit Strichen verbunden.',
    damaged:
      'Diese Datei ist beschädigt: ein Teil fehlt oder wurde verändert. Bitten Sie darum, sie noch einmal zu senden.',
    tooOld: 'Dieser Browser ist zu alt, um sie zu öffnen. Nehmen Sie einen neueren.',
    files: 'Dateien',
    save: 'Speichern',
    saveAll: 'Alle speichern',
    stays: 'Schließen Sie das Fenster, wenn Sie gelesen haben. Die Datei selbst bleibt verschlossen.',
  },
  pt: {
    title: 'Um ficheiro fechado',
    intro:
      'Abre neste navegador com a palavra-passe que lhe deram. Nada é enviado para lado nenhum, e não é precisa rede.',
    password: 'Palavra-passe',
    show: 'Mostrar a palavra-passe',
    open: 'Abrir',
    opening: 'A abrir …',
    wrong: 'Esta palavra-passe não o abre. As maiúsculas contam; as palavras são unidas por hífenes.',
    damaged: 'Este ficheiro está danificado: falta uma parte ou foi alterada. Peça que o enviem de novo.',
    tooOld: 'Este navegador é demasiado antigo para o abrir. Use um mais recente.',
    files: 'Ficheiros',
    save: 'Guardar',
    saveAll: 'Guardar todos',
    stays: 'Feche a janela quando tiver lido. O próprio ficheiro continua fechado.',
  },
};
