import { type CoverWords } from './cover-words';

export const catalogue: CoverWords = {
  template: `Bom dia {recipient},

{sender} ({address}) de {office} envia-lhe um ficheiro fechado: {file}. {password}

{open}

Não estava à espera disto? Antes de abrir, ligue ao remetente para um número que já conhece.

{office}`,
  nobody: '',
  password: {
    phone: (sender) => `${sender} diz-lhe a palavra-passe pelo telefone; nunca vem por correio.`,
    text: () => 'A palavra-passe chega ao seu telefone por mensagem de texto; nunca vem por correio.',
    agreed: (sender) => `Abre com a palavra-passe que combinou com ${sender}; nunca vem por correio.`,
  },
  open: {
    zip: `Como abrir
No computador: guarde o ficheiro e abra-o; é-lhe pedida a palavra-passe. Se o computador disser que não consegue, qualquer programa de arquivos que leia ZIP com AES o abre.
No telefone: guarde-o nos ficheiros e toque nele. Se nada pedir a palavra-passe, abra-o num computador.`,
    pdf: `Como abrir
No computador ou no telefone: com qualquer programa que mostre ficheiros PDF; é-lhe pedida a palavra-passe. Os ficheiros que o acompanham são anexos lá dentro: procure a lista de anexos.`,
    page: `Como abrir
No computador ou no telefone: guarde o ficheiro e abra-o no navegador. Ele pede a palavra-passe e mostra sozinho o texto e os ficheiros; não é preciso instalar nada, e funciona sem rede.`,
  },
  rename: (from, to) =>
    `Antes de mais: o nome termina em “.${from}”, porque alguns servidores de correio recusam a terminação habitual. Guarde-o e mude a terminação para “.${to}”.`,
  text: (sender, office, password) => `Palavra-passe do ficheiro fechado de ${sender}, ${office}: ${password}`,
  packed: 'Os ficheiros estão apenas juntos num arquivo. Não estão protegidos: qualquer pessoa no caminho os pode ler.',
  from: 'De',
  to: 'Para',
  cc: 'Cc',
  date: 'Data',
  subject: 'Assunto',
  reference: 'Referência',
  files: 'Ficheiros',
  messageName: 'Mensagem',
};
