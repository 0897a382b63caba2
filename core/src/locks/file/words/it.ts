import { type CoverWords } from './cover-words';

export const catalogue: CoverWords = {
  template: `Buongiorno {recipient},

{sender} ({address}) di {office} le invia un file bloccato: {file}. {password}

{open}

Non se lo aspettava? Prima di aprirlo, chiami il mittente a un numero che conosce già.

{office}`,
  nobody: '',
  password: {
    phone: (sender) => `${sender} le dice la password al telefono; non arriva mai per posta.`,
    text: () => 'La password arriva al Suo telefono per SMS; non arriva mai per posta.',
    agreed: (sender) => `Si apre con la password che ha concordato con ${sender}; non arriva mai per posta.`,
  },
  open: {
    zip: `Come aprirlo
Su un computer: salvi il file e lo apra; le viene chiesta la password. Se il computer dice che non può, lo apre qualsiasi programma di compressione che legge i file ZIP con AES.
Su un telefono: lo salvi tra i Suoi file e lo tocchi. Se nulla chiede una password, lo apra su un computer.`,
    pdf: `Come aprirlo
Su un computer o un telefono: lo apra con qualsiasi programma che mostra i PDF; le viene chiesta la password. I file che lo accompagnano sono allegati al suo interno: cerchi l’elenco degli allegati.`,
    page: `Come aprirlo
Su un computer o un telefono: salvi il file e lo apra nel Suo browser. Chiede la password e mostra da sé il testo e i file; non occorre installare nulla, e funziona senza rete.`,
  },
  rename: (from, to) =>
    `Prima di tutto: il suo nome termina in «.${from}», perché alcuni gateway di posta rifiutano la terminazione consueta. Lo salvi e cambi la terminazione in «.${to}».`,
  text: (sender, office, password) => `Password del file bloccato di ${sender}, ${office}: ${password}`,
  packed:
    'I file sono soltanto riuniti per viaggiare insieme. Non sono protetti: chiunque si trovi sul loro cammino può leggerli.',
  from: 'Da',
  to: 'A',
  cc: 'Copia',
  date: 'Data',
  subject: 'Oggetto',
  reference: 'Riferimento',
  files: 'File',
  messageName: 'Messaggio',
};
