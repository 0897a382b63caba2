import { type CarriedWords } from './en';

export const catalogue: CarriedWords = {
  title: (sender) => `Wiadomość w pliku, nadawca: ${sender}`,
  says: 'Jest zapieczętowana w pliku, który przyszedł z mailem. Podaj ten plik tej stronie: zostanie w Twojej przeglądarce i nie będzie nigdzie wysłany.',
  until: (date, distance) => `Można ją otworzyć do: ${date}, ${distance}.`,
  choose: 'Wybierz plik',
  orDrop: 'Albo upuść go w dowolnym miejscu tej strony.',
  field: 'Plik, który przyszedł z mailem',
  looking: 'Przejmowanie pliku',
  notOurs: (name) =>
    `„${name}” nie jest naszym plikiem albo brakuje jego części. Weź ten, który przyszedł z mailem; w jego nazwie jest „wiadomosc-pod-kluczem”. Jeśli to nie pomoże, zapisz go z maila jeszcze raz.`,
  another: (name) => `„${name}” należy do innej wiadomości. Weź plik z tego samego maila co ten link.`,
  elsewhere: (name, where) => `„${name}” należy do czytelni innego biura: ${where}. Otwórz go tam.`,
  tooLarge: (name) => `„${name}” jest za duży na naszą wiadomość.`,
  noLink: (name) =>
    `„${name}” zgubił po drodze część klucza. Zapisz go z maila jeszcze raz, a jeśli to nie pomoże, poproś nadawcę o ponowne przesłanie.`,
};
