import { type CoverWords } from './cover-words';

export const catalogue: CoverWords = {
  template: `Bonjour {recipient},

{sender} ({address}), de {office}, vous envoie un fichier verrouillé : {file}. {password}

{open}

Vous ne vous y attendiez pas ? Avant de l’ouvrir, appelez l’expéditeur à un numéro que vous connaissez déjà.

{office}`,
  nobody: '',
  password: {
    phone: (sender) => `${sender} vous en donne le mot de passe au téléphone ; il ne vient jamais par courriel.`,
    text: () => 'Son mot de passe arrive par SMS sur votre téléphone ; il ne vient jamais par courriel.',
    agreed: (sender) =>
      `Il s’ouvre avec le mot de passe dont vous êtes convenu avec ${sender} ; il ne vient jamais par courriel.`,
  },
  open: {
    zip: `Comment l’ouvrir
Sur un ordinateur : enregistrez le fichier et ouvrez-le ; le mot de passe vous est demandé. Si l’ordinateur dit qu’il ne peut pas, tout programme de décompression qui lit les fichiers ZIP avec AES l’ouvre.
Sur un téléphone : enregistrez-le parmi vos fichiers et touchez-le. Si rien ne demande de mot de passe, ouvrez-le sur un ordinateur.`,
    pdf: `Comment l’ouvrir
Sur un ordinateur ou un téléphone : ouvrez-le avec n’importe quel programme qui affiche les PDF ; le mot de passe vous est demandé. Les fichiers qui l’accompagnent sont des pièces jointes à l’intérieur : cherchez-en la liste.`,
    page: `Comment l’ouvrir
Sur un ordinateur ou un téléphone : enregistrez le fichier et ouvrez-le dans votre navigateur. Il demande le mot de passe et montre lui-même le texte et les fichiers ; rien n’est à installer, et il fonctionne sans réseau.`,
  },
  rename: (from, to) =>
    `Tout d’abord : son nom se termine par « .${from} », car certaines passerelles de messagerie refusent la fin habituelle. Enregistrez-le et remplacez cette fin par « .${to} ».`,
  text: (sender, office, password) => `Mot de passe du fichier verrouillé de ${sender}, ${office} : ${password}`,
  packed:
    'Les fichiers sont seulement regroupés pour voyager ensemble. Ils ne sont pas protégés : n’importe qui sur leur chemin peut les lire.',
  from: 'De',
  to: 'À',
  cc: 'Copie',
  date: 'Date',
  subject: 'Objet',
  reference: 'Référence',
  files: 'Fichiers',
  messageName: 'Message',
};
