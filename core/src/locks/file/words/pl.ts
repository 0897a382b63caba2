import { type CoverWords } from './cover-words';

export const catalogue: CoverWords = {
  template: `Dzień dobry, {recipient}!

{sender} ({address}), {office}, przesyła zamknięty plik: {file}. {password}

{open}

Nie spodziewasz się tego? Zanim otworzysz, zadzwoń do nadawcy pod numer, który już znasz.

{office}`,
  nobody: '',
  password: {
    phone: (sender) => `Hasło poda przez telefon ${sender}; nigdy nie przychodzi mailem.`,
    text: () => 'Hasło przyjdzie SMS-em na Twój telefon; nigdy nie przychodzi mailem.',
    agreed: (sender) => `Otwiera się hasłem, które uzgodniliście Ty i ${sender}; nigdy nie przychodzi mailem.`,
  },
  open: {
    zip: `Jak go otworzyć
Na komputerze: zapisz plik i otwórz; pojawi się pytanie o hasło. Jeśli komputer zgłosi, że nie może, otworzy go każdy program do rozpakowywania, który czyta pliki ZIP z AES.
Na telefonie: zapisz go wśród plików i dotknij. Jeśli nic nie pyta o hasło, otwórz go na komputerze.`,
    pdf: `Jak go otworzyć
Na komputerze lub telefonie: otwórz go dowolnym programem do plików PDF; pojawi się pytanie o hasło. Pliki, które do niego należą, są załącznikami w środku: poszukaj listy załączników.`,
    page: `Jak go otworzyć
Na komputerze lub telefonie: zapisz plik i otwórz w przeglądarce. Zapyta o hasło i sam pokaże tekst i pliki; niczego nie trzeba instalować, działa też bez sieci.`,
  },
  rename: (from, to) =>
    `Najpierw: jego nazwa kończy się na „.${from}”, bo niektóre bramki pocztowe odrzucają zwykłe zakończenie. Zapisz go i zmień zakończenie na „.${to}”.`,
  text: (sender, office, password) => `Hasło do zamkniętego pliku (${sender}, ${office}): ${password}`,
  packed: 'Pliki są tylko spakowane, by podróżowały razem. Nie są chronione: każdy na ich drodze może je przeczytać.',
  from: 'Od',
  to: 'Do',
  cc: 'Kopia',
  date: 'Data',
  subject: 'Temat',
  reference: 'Znak',
  files: 'Pliki',
  messageName: 'Wiadomość',
};
