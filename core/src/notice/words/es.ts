import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('es');
const minutesWord = (minutes: number): string => counted(minutes, { one: '# minuto', other: '# minutos' });
const personsWord = (people: number): string => counted(people, { one: '# persona', other: '# personas' });

export const catalogue: NoticeWords = {
  language: 'es',
  outerSubject: (office) => `Un mensaje confidencial de ${office}`,
  runsOutSubject: (date) => `Su certificado caduca: ${date}`,
  runsOut: (date, office) =>
    `Su certificado para firmar y cifrar el correo en ${office} caduca: ${date}. Renuévelo antes, en «Keys»: se crea uno nuevo y el anterior se guarda para leer. Hágalo usted mismo en Under Lock; nadie se lo pedirá nunca con un enlace a otro sitio.`,
  triedSubject: (office) => `El correo sale de ${office}`,
  tried: (office) =>
    `Ha pedido a Under Lock, en ${office}, que le envíe este correo. Ha llegado, así que los avisos también pueden salir. ¿Estaba en la carpeta de correo no deseado? Publique entonces los registros que figuran en «Office», para que los servidores de correo distingan su correo del ajeno.`,
  requestSubject: (sender) => `${sender} le pide un mensaje firmado`,
  requestText: (name, sender, office) => `${name === '' ? 'Buenos días:' : `Buenos días, ${name}:`}

Me gustaría escribirle de forma confidencial, directamente a su programa de correo. Para ello necesito su certificado o su clave OpenPGP, y lo más sencillo es un mensaje firmado por usted.

Se hace así:
1. Responda a este mensaje.
2. Antes de enviarlo, active la firma. La mayoría de los programas de correo la tienen en la ventana de redacción, como «Firmar» o «Firma digital».
3. Envíelo. No hace falta que escriba nada.
Si usa OpenPGP, adjunte su clave pública.

Si su programa no tiene esa opción, es que aún no tiene certificado. Responda simplemente que no tiene ninguno, y elegiré otra vía.

Este mensaje también está firmado, para que su programa pueda mostrarle que es mío.

${sender}
${office}`,
  subject: (sender) => `${sender} le ha dejado un mensaje para leer`,
  greeting: (name) => (name === '' ? 'Buenos días:' : `Buenos días, ${name}:`),
  opening: (sender, address, office) =>
    `${sender} (${address}), de ${office}, le ha escrito. El mensaje se guarda en nuestra sala de lectura y no está en este correo.`,
  openingOfReply: (sender, address, office) =>
    `${sender} (${address}) ha respondido a todos los que leen un mensaje de ${office}. La respuesta se guarda en nuestra sala de lectura y no está en este correo.`,
  openingCarried: (sender, address, office) =>
    `${sender} (${address}), de ${office}, le ha escrito. El mensaje está en el archivo que acompaña a este correo, bajo llave; se abre en nuestra sala de lectura una vez que haya demostrado quién es.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'Abra el archivo y pulse su botón. Si no se abre, vaya a esta página y entréguele el archivo:'
      : `Guarde el archivo. Su nombre termina en «.${ending}» para que pueda llegar: cámbielo para que termine en «.html» y ábralo. O vaya a esta página y entréguele el archivo tal como está:`,
  carriedButton: 'A la sala de lectura',
  carriedName: 'mensaje-bajo-llave',
  carriedTitle: (sender) => `Un mensaje de ${sender}, bajo llave`,
  carriedSays: (office) =>
    `Está sellado en este archivo. ${office} guarda una mitad de su clave: pulse el botón, demuestre quién es, y se abre en nuestra sala de lectura. Hace falta conexión. El remitente puede cerrar el mensaje o retirarlo; después, el archivo ya no se abre.`,
  carriedOtherwise: (address) => `Si no ocurre nada, vaya a ${address} y entregue este archivo a esa página.`,
  openingPassedOn: (reader, address, sender, office) =>
    `${reader} (${address}) le ha pasado un mensaje de ${sender}, de ${office}, que lo permite. El mensaje se guarda en nuestra sala de lectura y no está en este correo.`,
  until: (date) => `Puede leerlo hasta: ${date}.`,
  checkByText: (hint) => `Al abrirlo, enviamos un código por SMS al teléfono que termina en ${hint}.`,
  checkByEmail: (hint) => `Al abrirlo, enviamos un código a su otra dirección, ${hint}.`,
  checkByVoice: (hint) => `Al abrirlo, llamamos al teléfono que termina en ${hint} y leemos un código.`,
  checkByTold: 'Al abrirlo, se le pide una contraseña de un solo uso que el remitente le dice por otra vía.',
  checkByQuestion: 'Al abrirlo, se le hace una pregunta cuya respuesta conocen usted y el remitente.',
  checkByPassword:
    'Tiene una contraseña con nosotros: inicie sesión con ella para leer. Este enlace por sí solo no abre nada.',
  alsoQuestion: 'También se le hace una pregunta cuya respuesta conocen usted y el remitente.',
  openHere: 'Ábralo aquí:',
  openButton: 'Abrir el mensaje',
  answerThere: 'Responda allí, por favor: otros podrían leer por el camino una respuesta a este correo.',
  notForYou: 'Si no es para usted, no abra nada y borre este correo: sin el código nadie puede leerlo.',
  notForYouRegistered: 'Si no es para usted, borre este correo: sin la contraseña nadie puede leerlo.',
  whyALink: '¿No lo esperaba? Antes de abrirlo, llame al remitente a un número que ya conozca.',
  reminderSubject: (sender) => `Aún sin leer: un mensaje de ${sender}`,
  reminder: (sender, date) =>
    `${sender} le dejó un mensaje que no ha abierto. Su enlace está en nuestro correo del ${date}; no lo guardamos y no podemos repetirlo aquí.`,
  ruleSubject: (sender) => `Una regla ha actuado sobre un mensaje de ${sender}`,
  rule: (sender, people, rules, date, reference) =>
    `${sender} envió un mensaje a ${personsWord(people)} (${date})${reference === '' ? '' : `, con la referencia ${reference}`}. Lo que ha actuado: ${rules}. Este correo no dice de qué trata.`,
  releaseSubject: (sender) => `Un mensaje de ${sender} espera autorización`,
  release: (sender, people, rules) =>
    `${sender} ha escrito a ${personsWord(people)}, y las reglas de la oficina piden que otra persona lo mire antes de que salga: ${rules}. Autorícelo o devuélvalo con una frase. Este correo no dice de qué trata.`,
  releasedSubject: (end) => (end === 'let-go' ? 'Su mensaje ha sido autorizado' : 'Su mensaje ha sido devuelto'),
  released: (end, by, date) =>
    by === undefined
      ? `Nadie ha decidido sobre el mensaje que entregó (${date}), así que no ha salido. Vuelve a ser un borrador.`
      : end === 'let-go'
        ? `${by} ha mirado el mensaje que entregó (${date}) y lo ha autorizado.`
        : `${by} ha mirado el mensaje que entregó (${date}) y se lo ha devuelto. No ha salido; el porqué se lee donde esperaba.`,
  receiptSubject: (reader) => `${reader} ha abierto su mensaje`,
  receipt: (reader, address, date, reference) =>
    `${reader} (${address}) ha abierto por primera vez su mensaje${reference === '' ? '' : ` con la referencia ${reference}`}: ${date}.`,
  handedSubject: (office) => `Un mensaje suyo espera en ${office}`,
  handed: 'Lo envió desde su programa de correo. Todavía no ha salido y nadie lo ha recibido. Lo que aún falta:',
  waitingSubject: (office) => `Hay algo para usted en ${office}`,
  waiting: (count) =>
    `${counted(count, { one: 'Hay un mensaje para usted', other: 'Hay # mensajes para usted' })}, y no ha entrado desde entonces. Inicie sesión para leer; este correo no dice de qué trata ni de quién es.`,
  passcodeSubject: (code) => `${code} es su código`,
  passcode: (code, office, minutes) =>
    `${code} es su código para el mensaje de ${office}. Sirve una vez, durante ${minutesWord(minutes)}. Nunca lo pedimos por teléfono.`,
  mailboxCodeSubject: (code) => `${code} confirma su dirección`,
  mailboxCode: (code, office, minutes) =>
    `${code} confirma que este buzón es suyo, para su contraseña en la sala de lectura de ${office}. Sirve una vez, durante ${minutesWord(minutes)}. ¿No lo ha pedido? No haga nada: sin él no cambia nada.`,
  choiceSubject: 'Cómo le escribimos a partir de ahora',
  choice: (office) =>
    `En la sala de lectura de ${office} se ha elegido cómo le escribimos a partir de ahora. Puede volver a elegir debajo de cualquier mensaje que lea allí. Quien le escribe ve la elección antes de que se envíe nada.`,
  choiceBack: '¿No ha sido usted, o ya no lo quiere? Con esto lo anula; nadie lee las respuestas a este correo:',
  slotReceiptSubject: (number) => `Recibido: ${number}`,
  slotReceipt: (slot, office, number) =>
    `Lo que dejó para ${slot} en ${office} ha llegado bajo llave. Su número es ${number}.`,
  slotAnswer:
    'La respuesta llega a este buzón como aviso de la sala de lectura. Puede pedir el código de respuesta que se mostró al dejarlo; no tenemos ese código y no podemos enviarlo.',
  passcodeCall: (digits, office) =>
    `Le llama la sala de lectura de ${office}. Su código es: ${digits}. Otra vez: ${digits}. Nadie de ${office} se lo pedirá nunca.`,
};
