import { type LockedPageWords } from './en';

export const catalogue: LockedPageWords = {
  title: 'Um ficheiro fechado',
  intro:
    'Abre neste navegador com a palavra-passe que lhe deram. Nada é enviado para lado nenhum, e não é precisa rede.',
  password: 'Palavra-passe',
  show: 'Mostrar a palavra-passe',
  open: 'Abrir',
  opening: 'A abrir …',
  wrong: 'Esta palavra-passe não o abre. As maiúsculas, os espaços e os hífenes contam.',
  damaged: 'Este ficheiro está danificado: falta uma parte ou foi alterada. Peça que o enviem de novo.',
  tooOld: 'Este navegador é demasiado antigo para o abrir. Use um mais recente.',
  files: 'Ficheiros',
  save: 'Guardar',
  saveAll: 'Guardar todos',
  stays: 'Feche a janela quando tiver lido. O próprio ficheiro continua fechado.',
};
