import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('de');
const minutesWord = (minutes: number): string => counted(minutes, { one: '# Minute', other: '# Minuten' });

export const catalogue: NoticeWords = {
  language: 'de',
  outerSubject: (office) => `Eine vertrauliche Nachricht von ${office}`,
  runsOutSubject: (date) => `Ihr Zertifikat läuft ab: ${date}`,
  runsOut: (date, office) =>
    `Ihr Zertifikat zum Signieren und Verschlüsseln von Mails bei ${office} läuft ab: ${date}. Erneuern Sie es vorher unter „Keys“: ein neues wird gemacht, das alte bleibt zum Lesen. Tun Sie es selbst in Under Lock; niemand wird Sie je über einen Link an einen anderen Ort darum bitten.`,
  triedSubject: (office) => `Mails verlassen ${office}`,
  tried: (office) =>
    `Sie haben Under Lock bei ${office} gebeten, Ihnen diese Mail zu schicken. Sie ist angekommen, also gehen auch Benachrichtigungen hinaus. Lag sie im Spam-Ordner? Dann veröffentlichen Sie die Einträge, die unter „Office“ stehen: Mailserver können dann Ihre Mails von fremden unterscheiden.`,
  requestSubject: (sender) => `${sender} bittet Sie um eine signierte Nachricht`,
  requestText: (name, sender, office) => `${name === '' ? 'Guten Tag,' : `Guten Tag ${name},`}

ich möchte Ihnen vertraulich schreiben, direkt in Ihr Mailprogramm. Dafür brauche ich Ihr Zertifikat oder Ihren OpenPGP-Schlüssel, und am einfachsten ist eine signierte Nachricht von Ihnen.

So geht es:
1. Antworten Sie auf diese Nachricht.
2. Schalten Sie vor dem Senden das Signieren ein. Die meisten Mailprogramme haben es im Schreibfenster, als „Signieren“ oder „Digital signieren“.
3. Senden Sie sie ab. Sie brauchen nichts zu schreiben.
Wenn Sie OpenPGP benutzen, hängen Sie Ihren öffentlichen Schlüssel an.

Hat Ihr Programm das nicht, dann haben Sie noch kein Zertifikat. Antworten Sie einfach, dass Sie keines haben, und ich wähle einen anderen Weg.

Diese Nachricht ist selbst signiert, damit Ihr Programm zeigen kann, dass sie von mir ist.

${sender}
${office}`,
  subject: (sender) => `${sender} hat eine Nachricht für Sie hinterlegt`,
  greeting: (name) => (name === '' ? 'Guten Tag,' : `Guten Tag ${name},`),
  opening: (sender, address, office) =>
    `${sender} (${address}) von ${office} hat Ihnen geschrieben. Die Nachricht liegt in unserem Leseraum und nicht in dieser Mail.`,
  openingOfReply: (sender, address, office) =>
    `${sender} (${address}) hat allen geantwortet, die eine Nachricht von ${office} lesen. Die Antwort liegt in unserem Leseraum und nicht in dieser Mail.`,
  openingCarried: (sender, address, office) =>
    `${sender} (${address}) von ${office} hat Ihnen geschrieben. Die Nachricht steckt verschlossen in der Datei, die mit dieser Mail kommt; sie öffnet sich in unserem Leseraum, sobald Sie gezeigt haben, wer Sie sind.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'Öffnen Sie die Datei und drücken Sie auf ihren Knopf. Wo sie sich nicht öffnet, gehen Sie auf diese Seite und geben Sie ihr die Datei:'
      : `Speichern Sie die Datei. Ihr Name endet auf „.${ending}“, damit sie durchkommt: benennen Sie sie so um, dass er auf „.html“ endet, und öffnen Sie sie. Oder gehen Sie auf diese Seite und geben Sie ihr die Datei, wie sie ist:`,
  carriedButton: 'Zum Leseraum',
  carriedName: 'verschlossene-nachricht',
  carriedTitle: (sender) => `Eine Nachricht von ${sender}, verschlossen`,
  carriedSays: (office) =>
    `Sie ist in dieser Datei versiegelt. Eine Hälfte ihres Schlüssels liegt bei ${office}: drücken Sie auf den Knopf, zeigen Sie, wer Sie sind, und sie öffnet sich in unserem Leseraum. Dazu braucht es eine Verbindung. Der Absender kann die Nachricht schließen oder zurückziehen; danach öffnet sich die Datei nicht mehr.`,
  carriedOtherwise: (address) =>
    `Wenn nichts geschieht, gehen Sie auf ${address} und geben Sie jener Seite diese Datei.`,
  openingPassedOn: (reader, address, sender, office) =>
    `${reader} (${address}) hat eine Nachricht von ${sender} von ${office} an Sie weitergegeben; ${sender} erlaubt das. Die Nachricht liegt in unserem Leseraum und nicht in dieser Mail.`,
  until: (date) => `Sie können sie bis ${date} lesen.`,
  checkByText: (hint) => `Wenn Sie sie öffnen, schicken wir einen Code per SMS an das Telefon, das auf ${hint} endet.`,
  checkByEmail: (hint) => `Wenn Sie sie öffnen, schicken wir einen Code an Ihre andere Adresse, ${hint}.`,
  checkByVoice: (hint) =>
    `Wenn Sie sie öffnen, rufen wir das Telefon an, das auf ${hint} endet, und lesen einen Code vor.`,
  checkByTold:
    'Wenn Sie sie öffnen, werden Sie nach einem Einmalpasswort gefragt, das der Absender Ihnen auf anderem Weg sagt.',
  checkByQuestion: 'Wenn Sie sie öffnen, werden Sie etwas gefragt, worauf nur Sie und der Absender die Antwort kennen.',
  checkByPassword:
    'Sie haben bei uns ein Passwort: melden Sie sich damit an, um zu lesen. Der Link allein öffnet nichts.',
  alsoQuestion: 'Außerdem werden Sie etwas gefragt, worauf nur Sie und der Absender die Antwort kennen.',
  openHere: 'Hier öffnen:',
  openButton: 'Nachricht öffnen',
  answerThere: 'Bitte antworten Sie dort: Eine Antwort auf diese Mail könnten unterwegs andere lesen.',
  notForYou:
    'Ist sie nicht für Sie, öffnen Sie nichts und löschen Sie diese Mail: ohne den Code kann sie niemand lesen.',
  notForYouRegistered: 'Ist sie nicht für Sie, löschen Sie diese Mail: ohne das Passwort kann sie niemand lesen.',
  whyALink:
    'Sie haben das nicht erwartet? Rufen Sie den Absender unter einer Nummer an, die Sie schon kennen, bevor Sie sie öffnen.',
  reminderSubject: (sender) => `Noch nicht gelesen: eine Nachricht von ${sender}`,
  reminder: (sender, date) =>
    `${sender} hat eine Nachricht für Sie hinterlegt, die Sie noch nicht geöffnet haben. Ihr Link steht in unserer Mail von ${date}; wir bewahren ihn nicht auf und können ihn hier nicht wiederholen.`,
  ruleSubject: (sender) => `Eine Regel hat bei einer Nachricht von ${sender} gegriffen`,
  rule: (sender, people, rules, date, reference) =>
    `${sender} hat am ${date}${reference === '' ? '' : ` unter dem Zeichen ${reference}`} eine Nachricht an ${counted(people, { one: '# Person', other: '# Personen' })} gesendet. Gegriffen hat: ${rules}. Worum es geht, sagt diese Mail nicht.`,
  releaseSubject: (sender) => `Eine Nachricht von ${sender} wartet auf Freigabe`,
  release: (sender, people, rules) =>
    `${sender} hat an ${counted(people, { one: '# Person', other: '# Personen' })} geschrieben, und nach den Regeln des Büros soll jemand anderes sie ansehen, bevor sie hinausgeht: ${rules}. Geben Sie sie frei, oder schicken Sie sie mit einem Satz zurück. Worum es geht, sagt diese Mail nicht.`,
  releasedSubject: (end) => (end === 'let-go' ? 'Ihre Nachricht ist freigegeben' : 'Ihre Nachricht ist zurückgekommen'),
  released: (end, by, date) =>
    by === undefined
      ? `Über die Nachricht, die Sie am ${date} übergeben haben, hat niemand entschieden. Sie ist nicht hinausgegangen und wieder ein Entwurf.`
      : end === 'let-go'
        ? `${by} hat die Nachricht, die Sie am ${date} übergeben haben, angesehen und freigegeben.`
        : `${by} hat die Nachricht, die Sie am ${date} übergeben haben, angesehen und an Sie zurückgeschickt. Sie ist nicht hinausgegangen; warum, lesen Sie dort, wo sie gewartet hat.`,
  receiptSubject: (reader) => `${reader} hat Ihre Nachricht geöffnet`,
  receipt: (reader, address, date, reference) =>
    `${reader} (${address}) hat Ihre Nachricht${reference === '' ? '' : ` mit dem Zeichen ${reference}`} am ${date} zum ersten Mal geöffnet.`,
  handedSubject: (office) => `Eine Mail von Ihnen wartet bei ${office}`,
  handed:
    'Sie haben sie aus Ihrem Mailprogramm abgeschickt. Sie ist noch nicht hinausgegangen, und niemand hat sie bekommen. Was noch fehlt:',
  waitingSubject: (office) => `Bei ${office} liegt etwas für Sie`,
  waiting: (count) =>
    `${counted(count, { one: 'Eine Nachricht liegt', other: '# Nachrichten liegen' })} für Sie bereit, und Sie waren seitdem nicht hier. Melden Sie sich an, um zu lesen; diese Mail sagt nicht, worum es geht und von wem es kommt.`,
  passcodeSubject: (code) => `${code} ist Ihr Code`,
  passcode: (code, office, minutes) =>
    `${code} ist Ihr Code für die Nachricht von ${office}. Er gilt einmal, ${minutesWord(minutes)} lang. Wir fragen nie am Telefon danach.`,
  mailboxCodeSubject: (code) => `${code} bestätigt Ihre Adresse`,
  mailboxCode: (code, office, minutes) =>
    `${code} bestätigt, dass dieses Postfach Ihnen gehört, für Ihr Passwort im Leseraum von ${office}. Er gilt einmal, ${minutesWord(minutes)} lang. Sie haben ihn nicht verlangt? Dann tun Sie nichts: ohne ihn ändert sich nichts.`,
  choiceSubject: 'Wie wir Ihnen künftig schreiben',
  choice: (office) =>
    `Im Leseraum von ${office} wurde gewählt, wie wir Ihnen künftig schreiben. Unter jeder Nachricht, die Sie dort lesen, können Sie neu wählen. Wer Ihnen schreibt, sieht diese Wahl, bevor etwas abgeht.`,
  choiceBack:
    'Waren Sie das nicht, oder wollen Sie es nicht mehr? Hiermit nehmen Sie es zurück; Antworten auf diese Mail liest niemand:',
  slotReceiptSubject: (number) => `Angekommen: ${number}`,
  slotReceipt: (slot, office, number) =>
    `Was Sie für ${slot} bei ${office} hinterlassen haben, ist verschlossen angekommen. Die Nummer ist ${number}.`,
  slotAnswer:
    'Eine Antwort kommt als Mitteilung des Leseraums in dieses Postfach. Sie fragt vielleicht nach dem Antwortcode, der beim Hinterlassen zu sehen war; wir haben diesen Code nicht und können ihn nicht schicken.',
  passcodeCall: (digits, office) =>
    `Hier ist der Leseraum von ${office}. Ihr Code lautet: ${digits}. Noch einmal: ${digits}. Niemand von ${office} wird Sie je danach fragen.`,
};
