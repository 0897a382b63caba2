import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('fr');
const minutesWord = (minutes: number): string => counted(minutes, { one: '# minute', other: '# minutes' });
const personsWord = (people: number): string => counted(people, { one: '# personne', other: '# personnes' });

export const catalogue: NoticeWords = {
  language: 'fr',
  outerSubject: (office) => `Un message confidentiel de ${office}`,
  runsOutSubject: (date) => `Votre certificat expire le ${date}`,
  runsOut: (date, office) =>
    `Votre certificat pour signer et chiffrer le courrier chez ${office} expire le ${date}. Renouvelez-le avant, sous « Keys » : un nouveau est créé, l’ancien est gardé pour la lecture. Faites-le vous-même dans Under Lock ; personne ne vous le demandera jamais par un lien vers un autre endroit.`,
  triedSubject: (office) => `Le courrier sort de ${office}`,
  tried: (office) =>
    `Vous avez demandé à Under Lock, chez ${office}, de vous envoyer ce message. Il est arrivé : les avis peuvent donc sortir aussi. Était-il dans vos indésirables ? Publiez alors les enregistrements qui figurent sous « Office », pour que les serveurs de messagerie distinguent votre courrier de celui des autres.`,
  requestSubject: (sender) => `${sender} vous demande un message signé`,
  requestText: (name, sender, office) => `${name === '' ? 'Bonjour,' : `Bonjour ${name},`}

Je souhaite vous écrire de façon confidentielle, directement dans votre messagerie. Il me faut pour cela votre certificat ou votre clé OpenPGP, et le plus simple est un message signé de votre part.

Voici comment faire :
1. Répondez à ce message.
2. Avant l’envoi, activez la signature. La plupart des messageries la proposent dans la fenêtre de rédaction, sous « Signer » ou « Signature numérique ».
3. Envoyez-le. Vous n’avez rien à écrire.
Si vous utilisez OpenPGP, joignez votre clé publique.

Si votre messagerie n’a pas cette option, vous n’avez pas encore de certificat. Répondez simplement que vous n’en avez pas, et je choisirai un autre moyen.

Ce message est lui-même signé : votre messagerie peut vous montrer qu’il vient bien de moi.

${sender}
${office}`,
  subject: (sender) => `${sender} a laissé un message à votre attention`,
  greeting: (name) => (name === '' ? 'Bonjour,' : `Bonjour ${name},`),
  opening: (sender, address, office) =>
    `${sender} (${address}), de ${office}, vous a écrit. Le message est conservé dans notre salle de lecture et ne se trouve pas dans ce courriel.`,
  openingOfReply: (sender, address, office) =>
    `${sender} (${address}) a répondu à tous ceux qui lisent un message de ${office}. La réponse est conservée dans notre salle de lecture et ne se trouve pas dans ce courriel.`,
  openingCarried: (sender, address, office) =>
    `${sender} (${address}), de ${office}, vous a écrit. Le message est dans le fichier joint à ce courriel, sous clé ; il s’ouvre dans notre salle de lecture une fois que vous avez prouvé qui vous êtes.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'Ouvrez le fichier et appuyez sur son bouton. S’il ne s’ouvre pas, allez à cette page et donnez-lui le fichier :'
      : `Enregistrez le fichier. Son nom se termine par « .${ending} » pour qu’il passe : renommez-le pour qu’il se termine par « .html », puis ouvrez-le. Ou allez à cette page et donnez-lui le fichier tel quel :`,
  carriedButton: 'Vers la salle de lecture',
  carriedName: 'message-sous-cle',
  carriedTitle: (sender) => `Un message de ${sender}, sous clé`,
  carriedSays: (office) =>
    `Il est scellé dans ce fichier. ${office} garde une moitié de sa clé : appuyez sur le bouton, prouvez qui vous êtes, et il s’ouvre dans notre salle de lecture. Il faut une connexion. L’expéditeur peut clore le message ou le retirer ; ensuite, le fichier ne s’ouvre plus.`,
  carriedOtherwise: (address) => `Si rien ne se passe, allez à ${address} et donnez ce fichier à cette page.`,
  openingPassedOn: (reader, address, sender, office) =>
    `${reader} (${address}) vous a transmis un message de ${sender}, de ${office}, qui le permet. Le message est conservé dans notre salle de lecture et ne se trouve pas dans ce courriel.`,
  until: (date) => `Vous pouvez le lire jusqu’au ${date}.`,
  checkByText: (hint) =>
    `À l’ouverture, nous envoyons un code par SMS au téléphone dont le numéro se termine par ${hint}.`,
  checkByEmail: (hint) => `À l’ouverture, nous envoyons un code à votre autre adresse, ${hint}.`,
  checkByVoice: (hint) =>
    `À l’ouverture, nous appelons le téléphone dont le numéro se termine par ${hint} et dictons un code.`,
  checkByTold:
    'À l’ouverture, un mot de passe à usage unique vous est demandé ; l’expéditeur vous le donne par un autre moyen.',
  checkByQuestion: 'À l’ouverture, une question vous est posée, dont vous et l’expéditeur connaissez la réponse.',
  checkByPassword:
    'Vous avez défini un mot de passe chez nous : connectez-vous avec lui pour lire. Ce lien seul n’ouvre rien.',
  alsoQuestion: 'Une question vous est aussi posée, dont vous et l’expéditeur connaissez la réponse.',
  openHere: 'Ouvrez-le ici :',
  openButton: 'Ouvrir le message',
  answerThere: 'Répondez-y, s’il vous plaît : une réponse à ce courriel pourrait être lue par d’autres en chemin.',
  notForYou:
    'Si ce message ne vous est pas destiné, n’ouvrez rien et supprimez ce courriel : sans le code, personne ne peut le lire.',
  notForYouRegistered:
    'Si ce message ne vous est pas destiné, supprimez ce courriel : sans le mot de passe, personne ne peut le lire.',
  whyALink: 'Vous ne l’attendiez pas ? Avant de l’ouvrir, appelez l’expéditeur à un numéro que vous connaissez déjà.',
  reminderSubject: (sender) => `Pas encore lu : un message de ${sender}`,
  reminder: (sender, date) =>
    `${sender} a laissé pour vous un message que vous n’avez pas ouvert. Son lien se trouve dans notre courriel du ${date} ; nous ne le gardons pas et ne pouvons pas le répéter ici.`,
  ruleSubject: (sender) => `Une règle a agi sur un message de ${sender}`,
  rule: (sender, people, rules, date, reference) =>
    `${sender} a envoyé le ${date} un message à ${personsWord(people)}${reference === '' ? '' : `, sous la référence ${reference}`}. Ce qui a agi : ${rules}. Ce courriel ne dit pas de quoi il s’agit.`,
  releaseSubject: (sender) => `Un message de ${sender} attend d’être libéré`,
  release: (sender, people, rules) =>
    `${sender} a écrit à ${personsWord(people)}, et les règles du bureau veulent que quelqu’un d’autre regarde le message avant son départ : ${rules}. Libérez-le, ou renvoyez-le avec une phrase. Ce courriel ne dit pas de quoi il s’agit.`,
  releasedSubject: (end) => (end === 'let-go' ? 'Votre message a été libéré' : 'Votre message vous a été renvoyé'),
  released: (end, by, date) =>
    by === undefined
      ? `Personne ne s’est prononcé sur le message que vous avez remis le ${date} ; il n’est donc pas parti. C’est de nouveau un brouillon.`
      : end === 'let-go'
        ? `${by} a regardé le message que vous avez remis le ${date} et l’a libéré.`
        : `${by} a regardé le message que vous avez remis le ${date} et vous l’a renvoyé. Il n’est pas parti ; vous lirez pourquoi là où il attendait.`,
  receiptSubject: (reader) => `${reader} a ouvert votre message`,
  receipt: (reader, address, date, reference) =>
    `${reader} (${address}) a ouvert votre message${reference === '' ? '' : `, référence ${reference},`} pour la première fois le ${date}.`,
  handedSubject: (office) => `Un de vos messages attend chez ${office}`,
  handed:
    'Vous l’avez envoyé depuis votre logiciel de messagerie. Il n’est pas encore parti et personne ne l’a reçu. Ce qui manque encore :',
  waitingSubject: (office) => `Quelque chose vous attend chez ${office}`,
  waiting: (count) =>
    `${counted(count, { one: 'Un message vous attend', other: '# messages vous attendent' })}, et vous n’êtes pas revenu depuis. Connectez-vous pour lire ; ce courriel ne dit ni de quoi il s’agit ni de qui cela vient.`,
  passcodeSubject: (code) => `${code} est votre code`,
  passcode: (code, office, minutes) =>
    `${code} est votre code pour le message de ${office}. Il sert une fois, pendant ${minutesWord(minutes)}. Nous ne le demandons jamais au téléphone.`,
  mailboxCodeSubject: (code) => `${code} confirme votre adresse`,
  mailboxCode: (code, office, minutes) =>
    `${code} confirme que cette boîte est la vôtre, pour votre mot de passe dans la salle de lecture de ${office}. Il sert une fois, pendant ${minutesWord(minutes)}. Vous ne l’avez pas demandé ? Ne faites rien : sans lui, rien ne change.`,
  choiceSubject: 'Comment nous vous écrivons désormais',
  choice: (office) =>
    `Dans la salle de lecture de ${office}, il a été choisi comment nous vous écrivons désormais. Vous pouvez choisir de nouveau sous tout message que vous y lisez. Qui vous écrit voit ce choix avant tout envoi.`,
  choiceBack:
    'Ce n’était pas vous, ou vous n’en voulez plus ? Ce lien annule le choix ; personne ne lit les réponses à ce courriel :',
  slotReceiptSubject: (number) => `Bien reçu : ${number}`,
  slotReceipt: (slot, office, number) =>
    `Ce que vous avez déposé pour ${slot} chez ${office} est arrivé sous clé. Son numéro est ${number}.`,
  slotAnswer:
    'Une réponse arrive dans cette boîte sous forme d’avis de la salle de lecture. Elle peut demander le code de réponse affiché lors du dépôt ; nous n’avons pas ce code et ne pouvons pas l’envoyer.',
  passcodeCall: (digits, office) =>
    `Ici la salle de lecture de ${office}. Votre code est : ${digits}. Je répète : ${digits}. Personne de ${office} ne vous le demandera jamais.`,
};
