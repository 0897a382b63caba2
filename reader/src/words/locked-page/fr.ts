import { type LockedPageWords } from './en';

export const catalogue: LockedPageWords = {
  title: 'Un fichier verrouillé',
  intro:
    'Il s’ouvre dans ce navigateur avec le mot de passe qui vous a été donné. Rien n’est envoyé nulle part, et aucun réseau n’est nécessaire.',
  password: 'Mot de passe',
  show: 'Afficher le mot de passe',
  open: 'Ouvrir',
  opening: 'Ouverture …',
  wrong: 'Ce mot de passe ne l’ouvre pas. Les majuscules, les espaces et les tirets comptent.',
  damaged: 'Ce fichier est abîmé : une partie manque ou a été modifiée. Demandez qu’on vous l’envoie de nouveau.',
  tooOld: 'Ce navigateur est trop ancien pour l’ouvrir. Prenez-en un plus récent.',
  files: 'Fichiers',
  save: 'Enregistrer',
  saveAll: 'Tout enregistrer',
  stays: 'Fermez la fenêtre quand vous avez lu. Le fichier lui-même reste verrouillé.',
};
