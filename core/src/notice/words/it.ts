import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('it');
const minutesWord = (minutes: number): string => counted(minutes, { one: '# minuto', other: '# minuti' });
const personsWord = (people: number): string => counted(people, { one: '# persona', other: '# persone' });

export const catalogue: NoticeWords = {
  language: 'it',
  outerSubject: (office) => `Un messaggio riservato da ${office}`,
  runsOutSubject: (date) => `Il Suo certificato scade: ${date}`,
  runsOut: (date, office) =>
    `Il Suo certificato per firmare e cifrare la posta presso ${office} scade: ${date}. Lo rinnovi prima, sotto «Keys»: ne viene creato uno nuovo e quello vecchio resta per la lettura. Lo faccia Lei stesso in Under Lock; nessuno glielo chiederà mai con un link verso un altro luogo.`,
  triedSubject: (office) => `La posta esce da ${office}`,
  tried: (office) =>
    `Ha chiesto a Under Lock, presso ${office}, di inviarle questo messaggio. È arrivato, quindi anche gli avvisi possono uscire. Era nella posta indesiderata? Allora pubblichi i record che si trovano sotto «Office», perché i server di posta distinguano la Sua posta da quella altrui.`,
  requestSubject: (sender) => `${sender} le chiede un messaggio firmato`,
  requestText: (name, sender, office) => `${name === '' ? 'Buongiorno,' : `Buongiorno ${name},`}

vorrei scriverle in modo riservato, direttamente nel Suo programma di posta. Per questo mi serve il Suo certificato o la Sua chiave OpenPGP, e il modo più semplice è un Suo messaggio firmato.

Ecco come fare:
1. Risponda a questo messaggio.
2. Prima di inviarlo, attivi la firma. La maggior parte dei programmi di posta la offre nella finestra di scrittura, come «Firma» o «Firma digitale».
3. Lo invii. Non occorre scrivere nulla.
Se usa OpenPGP, alleghi la Sua chiave pubblica.

Se il Suo programma non ha questa opzione, non ha ancora un certificato. Risponda semplicemente che non ne ha, e sceglierò un’altra via.

Anche questo messaggio è firmato, così il Suo programma può mostrarle che viene da me.

${sender}
${office}`,
  subject: (sender) => `${sender} le ha lasciato un messaggio da leggere`,
  greeting: (name) => (name === '' ? 'Buongiorno,' : `Buongiorno ${name},`),
  opening: (sender, address, office) =>
    `${sender} (${address}) di ${office} le ha scritto. Il messaggio è custodito nella nostra sala di lettura e non si trova in questa mail.`,
  openingOfReply: (sender, address, office) =>
    `${sender} (${address}) ha risposto a tutti coloro che leggono un messaggio di ${office}. La risposta è custodita nella nostra sala di lettura e non si trova in questa mail.`,
  openingCarried: (sender, address, office) =>
    `${sender} (${address}) di ${office} le ha scritto. Il messaggio è nel file allegato a questa mail, sotto chiave; si apre nella nostra sala di lettura dopo che ha dimostrato chi è.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'Apra il file e prema il suo pulsante. Se non si apre, vada a questa pagina e le dia il file:'
      : `Salvi il file. Il suo nome termina in «.${ending}» perché possa arrivare: lo rinomini in modo che termini in «.html» e lo apra. Oppure vada a questa pagina e le dia il file così com’è:`,
  carriedButton: 'Alla sala di lettura',
  carriedName: 'messaggio-sotto-chiave',
  carriedTitle: (sender) => `Un messaggio da ${sender}, sotto chiave`,
  carriedSays: (office) =>
    `È sigillato in questo file. ${office} conserva metà della sua chiave: prema il pulsante, dimostri chi è, e si apre nella nostra sala di lettura. Serve una connessione. Il mittente può chiudere o ritirare il messaggio; dopo, il file non si apre più.`,
  carriedOtherwise: (address) => `Se non succede nulla, vada a ${address} e dia questo file a quella pagina.`,
  openingPassedOn: (reader, address, sender, office) =>
    `${reader} (${address}) le ha passato un messaggio di ${sender} di ${office}, che lo consente. Il messaggio è custodito nella nostra sala di lettura e non si trova in questa mail.`,
  until: (date) => `Può leggerlo fino a: ${date}.`,
  checkByText: (hint) => `Quando lo apre, inviamo un codice per SMS al telefono che termina in ${hint}.`,
  checkByEmail: (hint) => `Quando lo apre, inviamo un codice al Suo altro indirizzo, ${hint}.`,
  checkByVoice: (hint) => `Quando lo apre, chiamiamo il telefono che termina in ${hint} e dettiamo un codice.`,
  checkByTold: 'Quando lo apre, le viene chiesta una password monouso che il mittente le comunica per altra via.',
  checkByQuestion: 'Quando lo apre, le viene fatta una domanda di cui Lei e il mittente conoscete la risposta.',
  checkByPassword: 'Ha impostato una password da noi: acceda con essa per leggere. Questo link da solo non apre nulla.',
  alsoQuestion: 'Le viene fatta anche una domanda di cui Lei e il mittente conoscete la risposta.',
  openHere: 'Lo apra qui:',
  openButton: 'Apri il messaggio',
  answerThere: 'Per favore risponda lì: una risposta a questa mail potrebbe essere letta da altri lungo il percorso.',
  notForYou: 'Se non è per Lei, non apra nulla ed elimini questa mail: senza il codice nessuno può leggerlo.',
  notForYouRegistered: 'Se non è per Lei, elimini questa mail: senza la password nessuno può leggerlo.',
  whyALink: 'Non se lo aspettava? Prima di aprirlo, chiami il mittente a un numero che conosce già.',
  reminderSubject: (sender) => `Non ancora letto: un messaggio da ${sender}`,
  reminder: (sender, date) =>
    `${sender} le ha lasciato un messaggio che non ha aperto. Il suo link è nella nostra mail del ${date}; non lo conserviamo e non possiamo ripeterlo qui.`,
  ruleSubject: (sender) => `Una regola ha agito su un messaggio di ${sender}`,
  rule: (sender, people, rules, date, reference) =>
    `${sender} ha inviato un messaggio a ${personsWord(people)} (${date})${reference === '' ? '' : `, con il riferimento ${reference}`}. Che cosa ha agito: ${rules}. Questa mail non dice di che cosa si tratta.`,
  releaseSubject: (sender) => `Un messaggio di ${sender} attende il via libera`,
  release: (sender, people, rules) =>
    `${sender} ha scritto a ${personsWord(people)}, e le regole dell’ufficio vogliono che qualcun altro lo guardi prima che parta: ${rules}. Gli dia il via libera, o lo rimandi con una frase. Questa mail non dice di che cosa si tratta.`,
  releasedSubject: (end) =>
    end === 'let-go' ? 'Il Suo messaggio ha avuto il via libera' : 'Il Suo messaggio è stato rimandato',
  released: (end, by, date) =>
    by === undefined
      ? `Nessuno ha deciso sul messaggio che ha consegnato (${date}), quindi non è partito. È di nuovo una bozza.`
      : end === 'let-go'
        ? `${by} ha guardato il messaggio che ha consegnato (${date}) e gli ha dato il via libera.`
        : `${by} ha guardato il messaggio che ha consegnato (${date}) e glielo ha rimandato. Non è partito; il perché si legge là dove attendeva.`,
  receiptSubject: (reader) => `${reader} ha aperto il Suo messaggio`,
  receipt: (reader, address, date, reference) =>
    `${reader} (${address}) ha aperto per la prima volta il Suo messaggio${reference === '' ? '' : ` con il riferimento ${reference}`}: ${date}.`,
  handedSubject: (office) => `Un Suo messaggio attende presso ${office}`,
  handed:
    'Lo ha inviato dal Suo programma di posta. Non è ancora partito e nessuno lo ha ricevuto. Che cosa manca ancora:',
  waitingSubject: (office) => `C’è qualcosa per Lei presso ${office}`,
  waiting: (count) =>
    `${counted(count, { one: 'Un messaggio la attende', other: '# messaggi la attendono' })}, e da allora non è più entrato. Acceda per leggere; questa mail non dice di che cosa si tratta né da chi viene.`,
  passcodeSubject: (code) => `${code} è il Suo codice`,
  passcode: (code, office, minutes) =>
    `${code} è il Suo codice per il messaggio di ${office}. Vale una volta, per ${minutesWord(minutes)}. Non lo chiediamo mai al telefono.`,
  mailboxCodeSubject: (code) => `${code} conferma il Suo indirizzo`,
  mailboxCode: (code, office, minutes) =>
    `${code} conferma che questa casella è Sua, per la Sua password nella sala di lettura di ${office}. Vale una volta, per ${minutesWord(minutes)}. Non lo ha chiesto? Allora non faccia nulla: senza, non cambia niente.`,
  choiceSubject: 'Come le scriviamo d’ora in poi',
  choice: (office) =>
    `Nella sala di lettura di ${office} è stato scelto come le scriviamo d’ora in poi. Può scegliere di nuovo sotto ogni messaggio che legge lì. Chi le scrive vede la scelta prima che parta qualcosa.`,
  choiceBack: 'Non è stato Lei, o non lo vuole più? Con questo lo annulla; nessuno legge le risposte a questa mail:',
  slotReceiptSubject: (number) => `Ricevuto: ${number}`,
  slotReceipt: (slot, office, number) =>
    `Ciò che ha lasciato per ${slot} presso ${office} è arrivato sotto chiave. Il numero è ${number}.`,
  slotAnswer:
    'La risposta arriva in questa casella come avviso della sala di lettura. Può chiedere il codice di risposta mostrato al momento del deposito; non abbiamo quel codice e non possiamo inviarlo.',
  passcodeCall: (digits, office) =>
    `Qui la sala di lettura di ${office}. Il Suo codice è: ${digits}. Ancora una volta: ${digits}. Nessuno di ${office} glielo chiederà mai.`,
};
