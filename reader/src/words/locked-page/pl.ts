import { type LockedPageWords } from './en';

export const catalogue: LockedPageWords = {
  title: 'Zamknięty plik',
  intro: 'Otwiera się w tej przeglądarce hasłem, które Ci podano. Nic nie jest nigdzie wysyłane i nie trzeba sieci.',
  password: 'Hasło',
  show: 'Pokaż hasło',
  open: 'Otwórz',
  opening: 'Otwieranie …',
  wrong: 'To hasło go nie otwiera. Liczą się wielkie litery, spacje i kreski.',
  damaged: 'Ten plik jest uszkodzony: części brakuje lub została zmieniona. Poproś o przesłanie go jeszcze raz.',
  tooOld: 'Ta przeglądarka jest za stara, by go otworzyć. Użyj nowszej.',
  files: 'Pliki',
  save: 'Zapisz',
  saveAll: 'Zapisz wszystkie',
  stays: 'Po przeczytaniu zamknij okno. Sam plik pozostaje zamknięty.',
};
