import { type CarriedWords } from './en';

export const catalogue: CarriedWords = {
  title: (sender) => `${sender} enviou-lhe uma mensagem num ficheiro`,
  says: 'Está selada no ficheiro que veio com o correio. Dê-o a esta página: fica no seu navegador e não é enviado para lado nenhum.',
  until: (date, distance) => `Pode abri-la até ${date}, ${distance}.`,
  choose: 'Escolher o ficheiro',
  orDrop: 'Ou largue-o em qualquer sítio desta página.',
  field: 'O ficheiro que veio com o correio',
  looking: 'A receber o ficheiro',
  notOurs: (name) =>
    `“${name}” não é um ficheiro nosso, ou falta-lhe uma parte. Use o que veio com o correio; o nome diz “mensagem-fechada”. Se não ajudar, guarde-o de novo a partir do correio.`,
  another: (name) => `“${name}” pertence a outra mensagem. Use o do mesmo correio que esta ligação.`,
  elsewhere: (name, where) => `“${name}” pertence à sala de leitura de outra casa, em ${where}. Abra-o lá.`,
  tooLarge: (name) => `“${name}” é demasiado grande para ser uma mensagem nossa.`,
  noLink: (name) =>
    `“${name}” perdeu parte da chave pelo caminho. Guarde-o de novo a partir do correio e, se não ajudar, peça ao remetente que o envie outra vez.`,
};
