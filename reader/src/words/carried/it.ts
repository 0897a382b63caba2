import { type CarriedWords } from './en';

export const catalogue: CarriedWords = {
  title: (sender) => `${sender} le ha inviato un messaggio in un file`,
  says: 'È sigillato nel file arrivato con la mail. Dia il file a questa pagina: resta nel Suo browser e non viene inviato da nessuna parte.',
  until: (date, distance) => `Si può aprire fino a: ${date}, ${distance}.`,
  choose: 'Scegli il file',
  orDrop: 'Oppure lo trascini in un punto qualsiasi di questa pagina.',
  field: 'Il file arrivato con la mail',
  looking: 'Il file viene ripreso',
  notOurs: (name) =>
    `«${name}» non è un nostro file, o ne manca una parte. Prenda quello arrivato con la mail; il suo nome dice «messaggio-sotto-chiave». Se non basta, lo salvi di nuovo dalla mail.`,
  another: (name) => `«${name}» appartiene a un altro messaggio. Prenda quello della stessa mail di questo link.`,
  elsewhere: (name, where) => `«${name}» appartiene alla sala di lettura di un’altra casa, a ${where}. Lo apra lì.`,
  tooLarge: (name) => `«${name}» è troppo grande per essere un nostro messaggio.`,
  noLink: (name) =>
    `«${name}» ha perso per strada una parte della sua chiave. Lo salvi di nuovo dalla mail e, se non basta, chieda al mittente di inviarlo ancora.`,
};
