/** What the page says that asks for a carried page's file, in the language the reading room speaks. */
import { type Language } from '@under-lock/core/language';
import { language } from '../words/words';

const english = {
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
export type CarriedWords = typeof english;

const german: CarriedWords = {
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

const portuguese: CarriedWords = {
  title: (sender) => `${sender} enviou-lhe uma mensagem num ficheiro`,
  says: 'Está selada no ficheiro que veio com o correio. Dê-o a esta página: fica no seu navegador e não é enviado para lado nenhum.',
  until: (date, distance) => `Pode abri-la até ${date}, ${distance}.`,
  choose: 'Escolher o ficheiro',
  orDrop: 'Ou largue-o em qualquer sítio desta página.',
  field: 'O ficheiro que veio com o correio',
  looking: 'A receber o ficheiro',
  notOurs: (name) =>
    `“${name}” não é um ficheiro nosso, ou falta-lhe uma parte. Use o que veio com o correio; o nome diz “mensagem-fechada”. Se não ajudar, guarde-o de novo a partir do correio.`,
  another: (name) => `“${name}” pertence a outra mensagem. Use o do mesmo correio que esta ligação.`,
  elsewhere: (name, where) => `“${name}” pertence à sala de leitura de outra casa, em ${where}. Abra-o lá.`,
  tooLarge: (name) => `“${name}” é demasiado grande para ser uma mensagem nossa.`,
  noLink: (name) =>
    `“${name}” perdeu parte da chave pelo caminho. Guarde-o de novo a partir do correio e, se não ajudar, peça ao remetente que o envie outra vez.`,
};

const catalogues: Record<Language, CarriedWords> = { en: english, de: german, pt: portuguese };

export let carriedWords: CarriedWords = english;
export const loadCarriedWords = async (): Promise<void> => void (carriedWords = catalogues[language]);
