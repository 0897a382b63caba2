import { type CarriedWords } from './en';

export const catalogue: CarriedWords = {
  title: (sender) => `${sender} vous a envoyé un message dans un fichier`,
  says: 'Il est scellé dans le fichier arrivé avec le courriel. Donnez ce fichier à cette page : il reste dans votre navigateur et n’est envoyé nulle part.',
  until: (date, distance) => `Il peut être ouvert jusqu’au ${date}, ${distance}.`,
  choose: 'Choisir le fichier',
  orDrop: 'Ou déposez-le n’importe où sur cette page.',
  field: 'Le fichier arrivé avec le courriel',
  looking: 'Le fichier est repris',
  notOurs: (name) =>
    `« ${name} » n’est pas un de nos fichiers, ou une partie manque. Prenez celui qui est arrivé avec le courriel ; son nom dit « message-sous-cle ». Si cela n’aide pas, enregistrez-le de nouveau depuis le courriel.`,
  another: (name) => `« ${name} » appartient à un autre message. Prenez celui du même courriel que ce lien.`,
  elsewhere: (name, where) =>
    `« ${name} » appartient à la salle de lecture d’une autre maison, à ${where}. Ouvrez-le là-bas.`,
  tooLarge: (name) => `« ${name} » est trop grand pour être un de nos messages.`,
  noLink: (name) =>
    `« ${name} » a perdu en route une partie de sa clé. Enregistrez-le de nouveau depuis le courriel, et demandez sinon à l’expéditeur de le renvoyer.`,
};
