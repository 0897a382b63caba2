import { type LockedPageWords } from './en';

export const catalogue: LockedPageWords = {
  title: 'Een vergrendeld bestand',
  intro:
    'Het gaat open in deze browser met het wachtwoord dat u gekregen hebt. Er wordt niets ergens heen gestuurd, en er is geen netwerk nodig.',
  password: 'Wachtwoord',
  show: 'Wachtwoord tonen',
  open: 'Openen',
  opening: 'Wordt geopend …',
  wrong: 'Dit wachtwoord opent het niet. Hoofdletters, spaties en streepjes tellen mee.',
  damaged: 'Dit bestand is beschadigd: een deel ontbreekt of is veranderd. Vraag of het opnieuw gestuurd wordt.',
  tooOld: 'Deze browser is te oud om het te openen. Gebruik een nieuwere.',
  files: 'Bestanden',
  save: 'Opslaan',
  saveAll: 'Alles opslaan',
  stays: 'Sluit het venster als u klaar bent met lezen. Het bestand zelf blijft vergrendeld.',
};
