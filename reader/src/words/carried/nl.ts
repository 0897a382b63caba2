import { type CarriedWords } from './en';

export const catalogue: CarriedWords = {
  title: (sender) => `${sender} heeft u een bericht in een bestand gestuurd`,
  says: 'Het is verzegeld in het bestand dat met de mail is meegekomen. Geef het aan deze pagina: het blijft in uw browser en wordt nergens heen gestuurd.',
  until: (date, distance) => `Het kan geopend worden tot ${date}, ${distance}.`,
  choose: 'Bestand kiezen',
  orDrop: 'Of sleep het ergens op deze pagina.',
  field: 'Het bestand dat met de mail is meegekomen',
  looking: 'Het bestand wordt overgenomen',
  notOurs: (name) =>
    `“${name}” is geen bestand van ons, of een deel ontbreekt. Neem het bestand dat met de mail is meegekomen; in de naam staat “bericht-achter-slot”. Helpt dat niet, sla het dan opnieuw op uit de mail.`,
  another: (name) => `“${name}” hoort bij een ander bericht. Neem het bestand uit dezelfde mail als deze link.`,
  elsewhere: (name, where) => `“${name}” hoort bij de leeskamer van een ander huis, op ${where}. Open het daar.`,
  tooLarge: (name) => `“${name}” is te groot voor een bericht van ons.`,
  noLink: (name) =>
    `“${name}” is onderweg een deel van de sleutel kwijtgeraakt. Sla het opnieuw op uit de mail, en vraag anders de afzender het nog eens te sturen.`,
};
