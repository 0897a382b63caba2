import { type LockedPageWords } from './en';

export const catalogue: LockedPageWords = {
  title: 'Un file bloccato',
  intro:
    'Si apre in questo browser con la password che le è stata data. Nulla viene inviato altrove, e non serve la rete.',
  password: 'Password',
  show: 'Mostra la password',
  open: 'Apri',
  opening: 'Si apre …',
  wrong: 'Questa password non lo apre. Contano maiuscole, spazi e trattini.',
  damaged: 'Questo file è danneggiato: una parte manca o è stata cambiata. Chieda che le venga inviato di nuovo.',
  tooOld: 'Questo browser è troppo vecchio per aprirlo. Ne usi uno più recente.',
  files: 'File',
  save: 'Salva',
  saveAll: 'Salva tutti',
  stays: 'Chiuda la finestra quando ha letto. Il file resta bloccato.',
};
