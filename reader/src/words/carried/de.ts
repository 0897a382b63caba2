import { type CarriedWords } from './en';

export const catalogue: CarriedWords = {
  title: (sender) => `${sender} hat Ihnen eine Nachricht in einer Datei geschickt`,
  says: 'Sie ist in der Datei versiegelt, die mit der Mail gekommen ist. Geben Sie sie dieser Seite: sie bleibt in Ihrem Browser und wird nirgendwohin gesendet.',
  until: (date, distance) => `Sie lässt sich bis ${date} öffnen, ${distance}.`,
  choose: 'Datei wählen',
  orDrop: 'Oder ziehen Sie sie irgendwo auf diese Seite.',
  field: 'Die Datei, die mit der Mail gekommen ist',
  looking: 'Die Datei wird übernommen',
  notOurs: (name) =>
    `„${name}“ ist keine Datei von uns, oder ein Teil fehlt. Nehmen Sie die, die mit der Mail gekommen ist; ihr Name sagt „verschlossene-nachricht“. Hilft das nicht, speichern Sie sie neu aus der Mail.`,
  another: (name) => `„${name}“ gehört zu einer anderen Nachricht. Nehmen Sie die aus derselben Mail wie dieser Link.`,
  elsewhere: (name, where) =>
    `„${name}“ gehört zum Leseraum eines anderen Hauses, unter ${where}. Öffnen Sie sie dort.`,
  tooLarge: (name) => `„${name}“ ist zu groß für eine Nachricht von uns.`,
  noLink: (name) =>
    `„${name}“ hat unterwegs einen Teil ihres Schlüssels verloren. Speichern Sie sie neu aus der Mail, und bitten Sie sonst den Absender, sie noch einmal zu schicken.`,
};
