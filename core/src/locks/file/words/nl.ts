import { type CoverWords } from './cover-words';

export const catalogue: CoverWords = {
  template: `Goedendag {recipient},

{sender} ({address}) van {office} stuurt u een vergrendeld bestand: {file}. {password}

{open}

Had u dit niet verwacht? Bel de afzender op een nummer dat u al kent, voordat u het opent.

{office}`,
  nobody: '',
  password: {
    phone: (sender) => `${sender} vertelt u het wachtwoord aan de telefoon; het komt nooit per mail.`,
    text: () => 'Het wachtwoord komt als sms op uw telefoon; het komt nooit per mail.',
    agreed: (sender) =>
      `Het gaat open met het wachtwoord dat u met ${sender} hebt afgesproken; het komt nooit per mail.`,
  },
  open: {
    zip: `Zo opent u het
Op een computer: sla het bestand op en open het; er wordt om het wachtwoord gevraagd. Zegt de computer dat het niet kan, dan opent elk inpakprogramma dat ZIP-bestanden met AES leest het.
Op een telefoon: sla het op bij uw bestanden en tik erop. Vraagt niets om een wachtwoord, open het dan op een computer.`,
    pdf: `Zo opent u het
Op een computer of telefoon: open het met een willekeurig programma dat PDF-bestanden toont; er wordt om het wachtwoord gevraagd. De bestanden die erbij horen, zijn bijlagen erin: zoek de lijst met bijlagen.`,
    page: `Zo opent u het
Op een computer of telefoon: sla het bestand op en open het in uw browser. Het vraagt om het wachtwoord en toont zelf tekst en bestanden; er hoeft niets geïnstalleerd te worden, en het werkt zonder netwerk.`,
  },
  rename: (from, to) =>
    `Eerst dit: de naam eindigt op “.${from}”, omdat sommige mailgateways het gewone einde weigeren. Sla het bestand op en verander het einde in “.${to}”.`,
  text: (sender, office, password) => `Wachtwoord voor het vergrendelde bestand van ${sender}, ${office}: ${password}`,
  packed:
    'De bestanden zijn alleen samen ingepakt om samen te reizen. Ze zijn niet beschermd: iedereen onderweg kan ze lezen.',
  from: 'Van',
  to: 'Aan',
  cc: 'Kopie',
  date: 'Datum',
  subject: 'Onderwerp',
  reference: 'Kenmerk',
  files: 'Bestanden',
  messageName: 'Bericht',
};
