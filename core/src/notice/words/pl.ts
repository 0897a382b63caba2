import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('pl');
const minutesWord = (minutes: number): string =>
  counted(minutes, { one: '# minutę', few: '# minuty', many: '# minut' });
const personsWord = (people: number): string => counted(people, { one: '# osoby', few: '# osób', many: '# osób' });

export const catalogue: NoticeWords = {
  language: 'pl',
  outerSubject: (office) => `Poufna wiadomość: ${office}`,
  runsOutSubject: (date) => `Twój certyfikat wygasa: ${date}`,
  runsOut: (date, office) =>
    `Twój certyfikat do podpisywania i szyfrowania poczty (${office}) wygasa: ${date}. Odnów go wcześniej w „Keys”: powstanie nowy, a stary zostanie do czytania. Zrób to samodzielnie w Under Lock; nikt nigdy nie poprosi Cię o to przez link do innego miejsca.`,
  triedSubject: (office) => `Poczta wychodzi: ${office}`,
  tried: (office) =>
    `Poproszono Under Lock (${office}) o wysłanie Ci tej wiadomości. Dotarła, więc zawiadomienia też mogą wychodzić. Była w spamie? Opublikuj wpisy podane w „Office”, aby serwery pocztowe odróżniały Twoją pocztę od cudzej.`,
  requestSubject: (sender) => `${sender} prosi o podpisaną wiadomość`,
  requestText: (name, sender, office) => `Dzień dobry,${name === '' ? '' : ` ${name},`}

chcę napisać do Ciebie poufnie, prosto do Twojego programu pocztowego. Potrzebuję do tego Twojego certyfikatu lub klucza OpenPGP, a najprościej jest przysłać mi podpisaną wiadomość.

Oto jak:
1. Odpowiedz na tę wiadomość.
2. Przed wysłaniem włącz podpisywanie. Większość programów pocztowych ma je w oknie pisania jako „Podpisz” lub „Podpis cyfrowy”.
3. Wyślij. Nie trzeba nic pisać.
Jeśli używasz OpenPGP, dołącz klucz publiczny.

Jeśli Twój program nie ma takiego przełącznika, nie masz jeszcze certyfikatu. Odpowiedz po prostu, że go nie masz, a wybiorę inną drogę.

Ta wiadomość sama jest podpisana, więc Twój program może pokazać, że pochodzi ode mnie.

${sender}
${office}`,
  subject: (sender) => `Wiadomość do przeczytania: ${sender}`,
  greeting: (name) => (name === '' ? 'Dzień dobry,' : `Dzień dobry, ${name},`),
  opening: (sender, address, office) =>
    `Pisze do Ciebie ${sender} (${address}), ${office}. Wiadomość czeka w naszej czytelni i nie ma jej w tym mailu.`,
  openingOfReply: (sender, address, office) =>
    `${sender} (${address}) odpowiada wszystkim, którzy czytają wiadomość (${office}). Odpowiedź czeka w naszej czytelni i nie ma jej w tym mailu.`,
  openingCarried: (sender, address, office) =>
    `Pisze do Ciebie ${sender} (${address}), ${office}. Wiadomość jest w pliku dołączonym do tego maila, pod kluczem; otworzy się w naszej czytelni, gdy potwierdzisz, kim jesteś.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'Otwórz plik i naciśnij w nim przycisk. Jeśli się nie otwiera, wejdź na tę stronę i podaj jej plik:'
      : `Zapisz plik. Jego nazwa kończy się na „.${ending}”, aby mógł dotrzeć: zmień ją tak, by kończyła się na „.html”, i otwórz. Albo wejdź na tę stronę i podaj jej plik taki, jaki jest:`,
  carriedButton: 'Do czytelni',
  carriedName: 'wiadomosc-pod-kluczem',
  carriedTitle: (sender) => `Wiadomość pod kluczem: ${sender}`,
  carriedSays: (office) =>
    `Jest zapieczętowana w tym pliku. Połowę jej klucza przechowuje ${office}: naciśnij przycisk, potwierdź, kim jesteś, a otworzy się w naszej czytelni. Potrzebne jest połączenie. Nadawca może zamknąć lub wycofać wiadomość; wtedy plik już się nie otworzy.`,
  carriedOtherwise: (address) => `Jeśli nic się nie dzieje, wejdź na ${address} i podaj ten plik tamtej stronie.`,
  openingPassedOn: (reader, address, sender, office) =>
    `${reader} (${address}) przekazuje Ci wiadomość, którą napisał(a) ${sender}, ${office}, i na to pozwala. Wiadomość czeka w naszej czytelni i nie ma jej w tym mailu.`,
  until: (date) => `Można ją przeczytać do: ${date}.`,
  checkByText: (hint) => `Przy otwieraniu wyślemy kod SMS-em na telefon o numerze kończącym się na ${hint}.`,
  checkByEmail: (hint) => `Przy otwieraniu wyślemy kod na Twój drugi adres: ${hint}.`,
  checkByVoice: (hint) => `Przy otwieraniu zadzwonimy na telefon o numerze kończącym się na ${hint} i odczytamy kod.`,
  checkByTold: 'Przy otwieraniu trzeba podać hasło jednorazowe, które nadawca przekaże Ci inną drogą.',
  checkByQuestion: 'Przy otwieraniu padnie pytanie, na które odpowiedź znacie Ty i nadawca.',
  checkByPassword: 'Masz u nas hasło: zaloguj się nim, aby przeczytać. Sam ten link niczego nie otwiera.',
  alsoQuestion: 'Padnie też pytanie, na które odpowiedź znacie Ty i nadawca.',
  openHere: 'Otwórz ją tutaj:',
  openButton: 'Otwórz wiadomość',
  answerThere: 'Odpowiedz tam, proszę: odpowiedź na ten mail mogliby po drodze przeczytać inni.',
  notForYou: 'Jeśli to nie dla Ciebie, niczego nie otwieraj i usuń ten mail: bez kodu nikt jej nie przeczyta.',
  notForYouRegistered: 'Jeśli to nie dla Ciebie, usuń ten mail: bez hasła nikt jej nie przeczyta.',
  whyALink: 'Nie spodziewasz się tego? Zanim otworzysz, zadzwoń do nadawcy pod numer, który już znasz.',
  reminderSubject: (sender) => `Jeszcze nieprzeczytana wiadomość: ${sender}`,
  reminder: (sender, date) =>
    `Czeka na Ciebie wiadomość, której nie otwarto (nadawca: ${sender}). Link do niej jest w naszym mailu z dnia ${date}; nie przechowujemy go i nie możemy go tu powtórzyć.`,
  ruleSubject: (sender) => `Reguła zadziałała przy wiadomości: ${sender}`,
  rule: (sender, people, rules, date, reference) =>
    `${sender}: wiadomość do ${personsWord(people)}, ${date}${reference === '' ? '' : `, znak ${reference}`}. Zadziałało: ${rules}. Ten mail nie mówi, czego dotyczy.`,
  releaseSubject: (sender) => `Wiadomość czeka na zwolnienie: ${sender}`,
  release: (sender, people, rules) =>
    `${sender} pisze do ${personsWord(people)}, a reguły biura wymagają, by ktoś inny obejrzał wiadomość przed wysłaniem: ${rules}. Zwolnij ją albo odeślij z jednym zdaniem. Ten mail nie mówi, czego dotyczy.`,
  releasedSubject: (end) =>
    end === 'let-go' ? 'Twoja wiadomość została zwolniona' : 'Twoja wiadomość została odesłana',
  released: (end, by, date) =>
    by === undefined
      ? `Nikt nie podjął decyzji o wiadomości przekazanej ${date}, więc nie wyszła. Znów jest szkicem.`
      : end === 'let-go'
        ? `Wiadomość przekazana ${date} została obejrzana i zwolniona: ${by}.`
        : `Wiadomość przekazana ${date} została obejrzana i odesłana: ${by}. Nie wyszła; powód znajdziesz tam, gdzie czekała.`,
  receiptSubject: (reader) => `Wiadomość otwarta: ${reader}`,
  receipt: (reader, address, date, reference) =>
    `${reader} (${address}): pierwsze otwarcie Twojej wiadomości${reference === '' ? '' : ` (znak ${reference})`}, ${date}.`,
  handedSubject: (office) => `Pańska wiadomość czeka: ${office}`,
  handed: 'Została wysłana z programu pocztowego. Jeszcze nie wyszła i nikt jej nie otrzymał. Czego jeszcze brakuje:',
  waitingSubject: (office) => `Coś na Ciebie czeka: ${office}`,
  waiting: (count) =>
    `${counted(count, { one: 'Czeka na Ciebie wiadomość', few: 'Czekają na Ciebie # wiadomości', many: 'Czeka na Ciebie # wiadomości' })}, a od tamtej pory nikt tu nie zaglądał. Zaloguj się, aby przeczytać; ten mail nie mówi, czego dotyczy ani od kogo jest.`,
  passcodeSubject: (code) => `${code} to Twój kod`,
  passcode: (code, office, minutes) =>
    `${code} to Twój kod do wiadomości (${office}). Działa raz, przez ${minutesWord(minutes)}. Nigdy nie pytamy o niego przez telefon.`,
  mailboxCodeSubject: (code) => `${code} potwierdza Twój adres`,
  mailboxCode: (code, office, minutes) =>
    `${code} potwierdza, że ta skrzynka jest Twoja, dla hasła w czytelni (${office}). Działa raz, przez ${minutesWord(minutes)}. To nie Ty? Nie rób nic: bez kodu nic się nie zmieni.`,
  choiceSubject: 'Jak będziemy odtąd do Ciebie pisać',
  choice: (office) =>
    `W czytelni (${office}) wybrano, jak będziemy odtąd do Ciebie pisać. Możesz wybrać ponownie pod każdą wiadomością, którą tam czytasz. Kto do Ciebie pisze, widzi ten wybór, zanim cokolwiek wyjdzie.`,
  choiceBack: 'To nie Ty albo już tego nie chcesz? Tym linkiem to cofniesz; nikt nie czyta odpowiedzi na ten mail:',
  slotReceiptSubject: (number) => `Otrzymano: ${number}`,
  slotReceipt: (slot, office, number) =>
    `To, co zostawiono dla: ${slot} (${office}), dotarło pod kluczem. Numer: ${number}.`,
  slotAnswer:
    'Odpowiedź przyjdzie do tej skrzynki jako zawiadomienie czytelni. Może wymagać kodu odpowiedzi, który pokazano przy zostawianiu; nie mamy tego kodu i nie możemy go wysłać.',
  passcodeCall: (digits, office) =>
    `Tu czytelnia: ${office}. Twój kod to: ${digits}. Powtarzam: ${digits}. Nikt z ${office} nigdy o niego nie zapyta.`,
};
