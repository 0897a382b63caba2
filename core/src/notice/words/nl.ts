import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('nl');
const minutesWord = (minutes: number): string => counted(minutes, { one: '# minuut', other: '# minuten' });
const personsWord = (people: number): string => counted(people, { one: '# persoon', other: '# personen' });

export const catalogue: NoticeWords = {
  language: 'nl',
  outerSubject: (office) => `Een vertrouwelijk bericht van ${office}`,
  runsOutSubject: (date) => `Uw certificaat verloopt op ${date}`,
  runsOut: (date, office) =>
    `Uw certificaat voor het ondertekenen en versleutelen van mail bij ${office} verloopt op ${date}. Vernieuw het voor die tijd, onder “Keys”: er wordt een nieuw gemaakt en het oude blijft om mee te lezen. Doe het zelf in Under Lock; niemand zal u er ooit om vragen met een link naar een andere plaats.`,
  triedSubject: (office) => `Mail verlaat ${office}`,
  tried: (office) =>
    `U hebt Under Lock bij ${office} gevraagd u deze mail te sturen. Hij is aangekomen, dus ook berichtgevingen kunnen naar buiten. Lag hij bij de ongewenste mail? Publiceer dan de records die onder “Office” staan, zodat mailservers uw mail van die van anderen kunnen onderscheiden.`,
  requestSubject: (sender) => `${sender} vraagt u om een ondertekend bericht`,
  requestText: (name, sender, office) => `${name === '' ? 'Goedendag,' : `Goedendag ${name},`}

Ik wil u graag vertrouwelijk schrijven, rechtstreeks in uw mailprogramma. Daarvoor heb ik uw certificaat of uw OpenPGP-sleutel nodig, en het eenvoudigst is een ondertekend bericht van u.

Zo gaat het:
1. Beantwoord dit bericht.
2. Zet vóór het verzenden ondertekenen aan. De meeste mailprogramma’s hebben het in het schrijfvenster, als “Ondertekenen” of “Digitaal ondertekenen”.
3. Verstuur het. U hoeft niets te schrijven.
Gebruikt u OpenPGP, voeg dan uw publieke sleutel toe.

Heeft uw programma die keuze niet, dan hebt u nog geen certificaat. Antwoord dan gewoon dat u er geen hebt, en ik kies een andere weg.

Dit bericht is zelf ondertekend, zodat uw programma kan laten zien dat het van mij komt.

${sender}
${office}`,
  subject: (sender) => `${sender} heeft een bericht voor u klaargelegd`,
  greeting: (name) => (name === '' ? 'Goedendag,' : `Goedendag ${name},`),
  opening: (sender, address, office) =>
    `${sender} (${address}) van ${office} heeft u geschreven. Het bericht ligt in onze leeskamer en staat niet in deze mail.`,
  openingOfReply: (sender, address, office) =>
    `${sender} (${address}) heeft geantwoord aan allen die een bericht van ${office} lezen. Het antwoord ligt in onze leeskamer en staat niet in deze mail.`,
  openingCarried: (sender, address, office) =>
    `${sender} (${address}) van ${office} heeft u geschreven. Het bericht zit in het bestand bij deze mail, achter slot; het gaat open in onze leeskamer zodra u hebt aangetoond wie u bent.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'Open het bestand en druk op de knop erin. Gaat het niet open, ga dan naar deze pagina en geef haar het bestand:'
      : `Sla het bestand op. De naam eindigt op “.${ending}” zodat het doorkomt: hernoem het zodat het eindigt op “.html”, en open het. Of ga naar deze pagina en geef haar het bestand zoals het is:`,
  carriedButton: 'Naar de leeskamer',
  carriedName: 'bericht-achter-slot',
  carriedTitle: (sender) => `Een bericht van ${sender}, achter slot`,
  carriedSays: (office) =>
    `Het is verzegeld in dit bestand. ${office} bewaart de helft van de sleutel: druk op de knop, toon aan wie u bent, en het gaat open in onze leeskamer. Daarvoor is een verbinding nodig. De afzender kan het bericht sluiten of intrekken; daarna gaat het bestand niet meer open.`,
  carriedOtherwise: (address) => `Gebeurt er niets, ga dan naar ${address} en geef dit bestand aan die pagina.`,
  openingPassedOn: (reader, address, sender, office) =>
    `${reader} (${address}) heeft u een bericht doorgegeven van ${sender} van ${office}, die dat toestaat. Het bericht ligt in onze leeskamer en staat niet in deze mail.`,
  until: (date) => `U kunt het lezen tot ${date}.`,
  checkByText: (hint) =>
    `Als u het opent, sturen we een code per sms naar de telefoon waarvan het nummer eindigt op ${hint}.`,
  checkByEmail: (hint) => `Als u het opent, sturen we een code naar uw andere adres, ${hint}.`,
  checkByVoice: (hint) =>
    `Als u het opent, bellen we de telefoon waarvan het nummer eindigt op ${hint} en lezen een code voor.`,
  checkByTold:
    'Als u het opent, wordt een eenmalig wachtwoord gevraagd dat de afzender u langs een andere weg vertelt.',
  checkByQuestion: 'Als u het opent, krijgt u een vraag waarvan u en de afzender het antwoord weten.',
  checkByPassword:
    'U hebt bij ons een wachtwoord ingesteld: meld u daarmee aan om te lezen. Deze link alleen opent niets.',
  alsoQuestion: 'U krijgt ook een vraag waarvan u en de afzender het antwoord weten.',
  openHere: 'Open het hier:',
  openButton: 'Bericht openen',
  answerThere: 'Antwoord daar, alstublieft: een antwoord op deze mail kan onderweg door anderen worden gelezen.',
  notForYou: 'Is dit niet voor u, open dan niets en verwijder deze mail: zonder de code kan niemand het lezen.',
  notForYouRegistered: 'Is dit niet voor u, verwijder dan deze mail: zonder het wachtwoord kan niemand het lezen.',
  whyALink: 'Verwachtte u dit niet? Bel de afzender voordat u het opent, op een nummer dat u al kent.',
  reminderSubject: (sender) => `Nog niet gelezen: een bericht van ${sender}`,
  reminder: (sender, date) =>
    `${sender} heeft een bericht voor u klaargelegd dat u niet hebt geopend. De link staat in onze mail van ${date}; wij bewaren hem niet en kunnen hem hier niet herhalen.`,
  ruleSubject: (sender) => `Een regel greep in bij een bericht van ${sender}`,
  rule: (sender, people, rules, date, reference) =>
    `${sender} heeft op ${date} een bericht gestuurd aan ${personsWord(people)}${reference === '' ? '' : `, met kenmerk ${reference}`}. Wat ingreep: ${rules}. Deze mail zegt niet waar het over gaat.`,
  releaseSubject: (sender) => `Een bericht van ${sender} wacht op vrijgave`,
  release: (sender, people, rules) =>
    `${sender} heeft geschreven aan ${personsWord(people)}, en de regels van het kantoor willen dat iemand anders ernaar kijkt voordat het vertrekt: ${rules}. Geef het vrij, of stuur het terug met een zin. Deze mail zegt niet waar het over gaat.`,
  releasedSubject: (end) => (end === 'let-go' ? 'Uw bericht is vrijgegeven' : 'Uw bericht is teruggestuurd'),
  released: (end, by, date) =>
    by === undefined
      ? `Niemand heeft beslist over het bericht dat u op ${date} hebt overgedragen, dus het is niet vertrokken. Het is weer een concept.`
      : end === 'let-go'
        ? `${by} heeft het bericht bekeken dat u op ${date} hebt overgedragen, en het vrijgegeven.`
        : `${by} heeft het bericht bekeken dat u op ${date} hebt overgedragen, en het teruggestuurd. Het is niet vertrokken; waarom, leest u waar het wachtte.`,
  receiptSubject: (reader) => `${reader} heeft uw bericht geopend`,
  receipt: (reader, address, date, reference) =>
    `${reader} (${address}) heeft uw bericht${reference === '' ? '' : ` met kenmerk ${reference}`} op ${date} voor het eerst geopend.`,
  handedSubject: (office) => `Een bericht van u wacht bij ${office}`,
  handed:
    'U hebt het vanuit uw mailprogramma verstuurd. Het is nog niet vertrokken en niemand heeft het gekregen. Wat er nog nodig is:',
  waitingSubject: (office) => `Er ligt iets voor u bij ${office}`,
  waiting: (count) =>
    `${counted(count, { one: 'Er ligt een bericht voor u', other: 'Er liggen # berichten voor u' })}, en u bent sindsdien niet hier geweest. Meld u aan om te lezen; deze mail zegt niet waar het over gaat of van wie het komt.`,
  passcodeSubject: (code) => `${code} is uw code`,
  passcode: (code, office, minutes) =>
    `${code} is uw code voor het bericht van ${office}. Hij werkt één keer, ${minutesWord(minutes)} lang. Wij vragen er nooit telefonisch om.`,
  mailboxCodeSubject: (code) => `${code} bevestigt uw adres`,
  mailboxCode: (code, office, minutes) =>
    `${code} bevestigt dat deze mailbox van u is, voor uw wachtwoord in de leeskamer van ${office}. Hij werkt één keer, ${minutesWord(minutes)} lang. Hebt u er niet om gevraagd? Doe dan niets: zonder deze code verandert er niets.`,
  choiceSubject: 'Hoe wij u voortaan schrijven',
  choice: (office) =>
    `In de leeskamer van ${office} is gekozen hoe wij u voortaan schrijven. U kunt opnieuw kiezen onder elk bericht dat u daar leest. Wie u schrijft, ziet de keuze voordat er iets vertrekt.`,
  choiceBack: 'Was u dat niet, of wilt u het niet meer? Hiermee trekt u het in; niemand leest antwoorden op deze mail:',
  slotReceiptSubject: (number) => `Ontvangen: ${number}`,
  slotReceipt: (slot, office, number) =>
    `Wat u voor ${slot} bij ${office} hebt achtergelaten, is achter slot aangekomen. Het nummer is ${number}.`,
  slotAnswer:
    'Een antwoord komt in deze mailbox als bericht van de leeskamer. Het kan vragen om de antwoordcode die bij het achterlaten te zien was; wij hebben die code niet en kunnen hem niet sturen.',
  passcodeCall: (digits, office) =>
    `Dit is de leeskamer van ${office}. Uw code is: ${digits}. Nog eenmaal: ${digits}. Niemand van ${office} zal u er ooit om vragen.`,
};
