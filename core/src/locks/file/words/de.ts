import { type CoverWords } from './cover-words';

export const catalogue: CoverWords = {
  template: `Guten Tag {recipient},

{sender} ({address}) von {office} schickt Ihnen eine verschlossene Datei: {file}. {password}

{open}

Sie haben das nicht erwartet? Rufen Sie vor dem Öffnen unter einer Nummer an, die Sie schon kennen.

{office}`,
  nobody: '',
  password: {
    phone: (sender) => `Das Passwort sagt Ihnen ${sender} am Telefon; es kommt nie per Mail.`,
    text: () => 'Das Passwort kommt als SMS auf Ihr Telefon; es kommt nie per Mail.',
    agreed: (sender) =>
      `Sie öffnen sie mit dem Passwort, das Sie mit ${sender} vereinbart haben; es kommt nie per Mail.`,
  },
  open: {
    zip: `So öffnen Sie sie
Am Computer: Datei speichern und öffnen; Sie werden nach dem Passwort gefragt. Meldet der Computer, dass er das nicht kann, öffnet sie jedes Packprogramm, das ZIP-Dateien mit AES liest.
Am Telefon: in den Dateien speichern und antippen. Fragt nichts nach einem Passwort, öffnen Sie sie am Computer.`,
    pdf: `So öffnen Sie sie
Am Computer oder Telefon: mit einem beliebigen Programm, das PDF-Dateien zeigt; Sie werden nach dem Passwort gefragt. Die Dateien dazu sind Anlagen darin: suchen Sie die Liste der Anlagen.`,
    page: `So öffnen Sie sie
Am Computer oder Telefon: Datei speichern und im Browser öffnen. Sie fragt nach dem Passwort und zeigt Text und Dateien von selbst; nichts muss installiert werden, und es geht ohne Netz.`,
  },
  rename: (from, to) =>
    `Zuerst: der Name endet auf „.${from}“, weil manche Mail-Gateways die übliche Endung abweisen. Speichern Sie die Datei und ändern Sie die Endung in „.${to}“.`,
  text: (sender, office, password) => `Passwort für die verschlossene Datei von ${sender}, ${office}: ${password}`,
  packed:
    'Die Dateien sind nur gepackt, damit sie zusammen reisen. Sie sind nicht geschützt: jeder auf ihrem Weg kann sie lesen.',
  from: 'Von',
  to: 'An',
  cc: 'Kopie',
  date: 'Datum',
  subject: 'Betreff',
  reference: 'Aktenzeichen',
  files: 'Dateien',
  messageName: 'Nachricht',
};
