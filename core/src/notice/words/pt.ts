import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('pt');
const minutesWord = (minutes: number): string => counted(minutes, { one: '# minuto', other: '# minutos' });

export const catalogue: NoticeWords = {
  language: 'pt',
  outerSubject: (office) => `Uma mensagem confidencial de ${office}`,
  runsOutSubject: (date) => `O seu certificado expira: ${date}`,
  runsOut: (date, office) =>
    `O seu certificado para assinar e cifrar correio em ${office} expira: ${date}. Renove-o antes, em “Keys”: faz-se um novo e o antigo fica para leitura. Faça-o você mesmo no Under Lock; ninguém lho pedirá por uma ligação para outro lugar.`,
  triedSubject: (office) => `O correio sai de ${office}`,
  tried: (office) =>
    `Pediu ao Under Lock em ${office} que lhe enviasse esta mensagem. Chegou, por isso também os avisos podem sair. Estava na pasta de lixo? Então publique os registos que estão em “Office”, para que os servidores de correio distingam o seu correio do de outros.`,
  requestSubject: (sender) => `${sender} pede-lhe uma mensagem assinada`,
  requestText: (name, sender, office) => `${name === '' ? 'Bom dia,' : `Bom dia ${name},`}

gostaria de lhe escrever de forma confidencial, diretamente para o seu programa de correio. Para isso preciso do seu certificado ou da sua chave OpenPGP, e o mais simples é uma mensagem assinada por si.

Como fazer:
1. Responda a esta mensagem.
2. Antes de enviar, ligue a assinatura. A maioria dos programas tem-na na janela de escrita, como “Assinar” ou “Assinar digitalmente”.
3. Envie. Não precisa de escrever nada.
Se utiliza OpenPGP, anexe a sua chave pública.

Se o seu programa não tem essa opção, ainda não tem certificado. Responda apenas que não tem, e eu escolho outro caminho.

Esta mensagem está ela própria assinada, para que o seu programa possa mostrar que é minha.

${sender}
${office}`,
  subject: (sender) => `${sender} deixou-lhe uma mensagem para ler`,
  greeting: (name) => (name === '' ? 'Bom dia,' : `Bom dia, ${name},`),
  opening: (sender, address, office) =>
    `${sender} (${address}), de ${office}, escreveu-lhe. A mensagem está guardada na nossa sala de leitura e não vem neste correio.`,
  openingOfReply: (sender, address, office) =>
    `${sender} (${address}) respondeu a todos os que leem uma mensagem de ${office}. A resposta está guardada na nossa sala de leitura e não vem neste correio.`,
  openingCarried: (sender, address, office) =>
    `${sender} (${address}), de ${office}, escreveu-lhe. A mensagem vem fechada no ficheiro que acompanha este correio; abre na nossa sala de leitura, depois de mostrar quem é.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'Abra o ficheiro e carregue no seu botão. Se não abrir, vá a esta página e dê-lhe o ficheiro:'
      : `Guarde o ficheiro. O nome termina em “.${ending}” para poder passar: mude-o para terminar em “.html” e abra-o. Ou vá a esta página e dê-lhe o ficheiro tal como está:`,
  carriedButton: 'Ir para a sala de leitura',
  carriedName: 'mensagem-fechada',
  carriedTitle: (sender) => `Uma mensagem de ${sender}, fechada`,
  carriedSays: (office) =>
    `Está selada neste ficheiro. ${office} guarda metade da chave: carregue no botão, mostre quem é, e abre na nossa sala de leitura. É precisa uma ligação à rede. O remetente pode fechar a mensagem ou retirá-la; depois disso o ficheiro já não abre.`,
  carriedOtherwise: (address) => `Se não acontecer nada, vá a ${address} e dê este ficheiro a essa página.`,
  openingPassedOn: (reader, address, sender, office) =>
    `${reader} (${address}) passou-lhe uma mensagem de ${sender}, de ${office}, que o permite. A mensagem está guardada na nossa sala de leitura e não vem neste correio.`,
  until: (date) => `Pode lê-la até ${date}.`,
  checkByText: (hint) => `Ao abri-la, enviamos um código por SMS para o telefone que termina em ${hint}.`,
  checkByEmail: (hint) => `Ao abri-la, enviamos um código para o seu outro endereço, ${hint}.`,
  checkByVoice: (hint) => `Ao abri-la, ligamos para o telefone que termina em ${hint} e lemos um código.`,
  checkByTold: 'Ao abri-la, é pedida uma palavra-passe de uso único que o remetente lhe diz por outro meio.',
  checkByQuestion:
    'Ao abri-la, é-lhe feita uma pergunta cuja resposta só o remetente e a pessoa destinatária conhecem.',
  checkByPassword:
    'Definiu uma palavra-passe connosco: inicie sessão com ela para ler. Esta ligação sozinha não abre nada.',
  alsoQuestion: 'É-lhe feita também uma pergunta cuja resposta só o remetente e a pessoa destinatária conhecem.',
  openHere: 'Abra aqui:',
  openButton: 'Abrir a mensagem',
  answerThere: 'Responda lá, por favor: uma resposta a este correio poderia ser lida por outros no caminho.',
  notForYou: 'Se não é para si, não abra nada e apague este correio: sem o código ninguém a pode ler.',
  notForYouRegistered: 'Se não é para si, apague este correio: sem a palavra-passe ninguém a pode ler.',
  whyALink: 'Não esperava isto? Antes de abrir, ligue ao remetente para um número que já conhece.',
  reminderSubject: (sender) => `Ainda por ler: uma mensagem de ${sender}`,
  reminder: (sender, date) =>
    `${sender} deixou-lhe uma mensagem que ainda não abriu. A ligação está no nosso correio de ${date}; não a guardamos e não a podemos repetir aqui.`,
  ruleSubject: (sender) => `Uma regra atuou numa mensagem de ${sender}`,
  rule: (sender, people, rules, date, reference) =>
    `${sender} enviou em ${date} uma mensagem a ${counted(people, { one: '# pessoa', other: '# pessoas' })}${reference === '' ? '' : `, com a referência ${reference}`}. O que atuou: ${rules}. Este e-mail não diz do que se trata.`,
  releaseSubject: (sender) => `Uma mensagem de ${sender} espera por autorização`,
  release: (sender, people, rules) =>
    `${sender} escreveu a ${counted(people, { one: '# pessoa', other: '# pessoas' })}, e as regras do escritório querem que outra pessoa a veja antes de sair: ${rules}. Autorize-a ou devolva-a com uma frase. Este e-mail não diz do que se trata.`,
  releasedSubject: (end) => (end === 'let-go' ? 'A sua mensagem foi autorizada' : 'A sua mensagem foi devolvida'),
  released: (end, by, date) =>
    by === undefined
      ? `Ninguém decidiu sobre a mensagem que entregou em ${date}; não saiu e voltou a ser um rascunho.`
      : end === 'let-go'
        ? `${by} viu a mensagem que entregou em ${date} e autorizou-a.`
        : `${by} viu a mensagem que entregou em ${date} e devolveu-a. Não saiu; o porquê está onde ela esperava.`,
  receiptSubject: (reader) => `${reader} abriu a sua mensagem`,
  receipt: (reader, address, date, reference) =>
    `${reader} (${address}) abriu a sua mensagem${reference === '' ? '' : ` com a referência ${reference}`} pela primeira vez em ${date}.`,
  handedSubject: (office) => `Uma mensagem sua aguarda em ${office}`,
  handed: 'Enviou-a a partir do seu programa de correio. Ainda não saiu e ninguém a recebeu. O que falta:',
  waitingSubject: (office) => `Há algo à sua espera em ${office}`,
  waiting: (count) =>
    `${counted(count, { one: 'Há uma mensagem', other: 'Há # mensagens' })} à sua espera, e ainda não entrou desde então. Inicie sessão para ler; este e-mail não diz do que se trata nem de quem vem.`,
  passcodeSubject: (code) => `${code} é o seu código`,
  passcode: (code, office, minutes) =>
    `${code} é o seu código para a mensagem de ${office}. Serve uma vez, durante ${minutesWord(minutes)}. Nunca o pedimos por telefone.`,
  mailboxCodeSubject: (code) => `${code} confirma o seu endereço`,
  mailboxCode: (code, office, minutes) =>
    `${code} confirma que esta caixa de correio é sua, para a sua palavra-passe na sala de leitura de ${office}. Serve uma vez, durante ${minutesWord(minutes)}. Não o pediu? Então não faça nada: sem ele nada muda.`,
  choiceSubject: 'Como lhe escrevemos a partir de agora',
  choice: (office) =>
    `Na sala de leitura de ${office} foi escolhido como lhe escrevemos a partir de agora. Pode escolher de novo por baixo de qualquer mensagem que lá leia. Quem lhe escreve vê a escolha antes de enviar.`,
  choiceBack: 'Não foi você, ou já não o quer? Assim anula a escolha; ninguém lê respostas a este correio:',
  slotReceiptSubject: (number) => `Recebido: ${number}`,
  slotReceipt: (slot, office, number) => `O que deixou para ${slot} em ${office} chegou fechado. O número é ${number}.`,
  slotAnswer:
    'Uma resposta chega a esta caixa de correio como aviso da sala de leitura. Pode pedir o código de resposta que lhe foi mostrado quando deixou a mensagem; não temos esse código e não o podemos enviar.',
  passcodeCall: (digits, office) =>
    `Daqui fala a sala de leitura de ${office}. O seu código é: ${digits}. Mais uma vez: ${digits}. Ninguém de ${office} lho pedirá.`,
};
