import { type LockedPageWords } from './en';

export const catalogue: LockedPageWords = {
  title: 'Un archivo bloqueado',
  intro:
    'Se abre en este navegador con la contraseña que le han dado. Nada se envía a ninguna parte, y no hace falta red.',
  password: 'Contraseña',
  show: 'Mostrar la contraseña',
  open: 'Abrir',
  opening: 'Abriendo …',
  wrong: 'Esta contraseña no lo abre. Las mayúsculas, los espacios y los guiones cuentan.',
  damaged: 'Este archivo está dañado: falta una parte o se ha cambiado. Pida que se lo envíen de nuevo.',
  tooOld: 'Este navegador es demasiado antiguo para abrirlo. Use uno más nuevo.',
  files: 'Archivos',
  save: 'Guardar',
  saveAll: 'Guardar todos',
  stays: 'Cierre la ventana cuando haya leído. El archivo sigue bloqueado.',
};
