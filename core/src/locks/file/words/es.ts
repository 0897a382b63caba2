import { type CoverWords } from './cover-words';

export const catalogue: CoverWords = {
  template: `Buenos días, {recipient}:

{sender} ({address}), de {office}, le envía un archivo bloqueado: {file}. {password}

{open}

¿No lo esperaba? Antes de abrirlo, llame al remitente a un número que ya conozca.

{office}`,
  nobody: 'lector',
  password: {
    phone: (sender) => `${sender} le dice la contraseña por teléfono; nunca llega por correo.`,
    text: () => 'La contraseña le llega al teléfono por SMS; nunca llega por correo.',
    agreed: (sender) => `Se abre con la contraseña que acordó con ${sender}; nunca llega por correo.`,
  },
  open: {
    zip: `Cómo abrirlo
En un ordenador: guarde el archivo y ábralo; se le pide la contraseña. Si el ordenador dice que no puede, lo abre cualquier programa de compresión que lea archivos ZIP con AES.
En un teléfono: guárdelo entre sus archivos y tóquelo. Si nada pide una contraseña, ábralo en un ordenador.`,
    pdf: `Cómo abrirlo
En un ordenador o un teléfono: ábralo con cualquier programa que muestre archivos PDF; se le pide la contraseña. Los archivos que lo acompañan son adjuntos en su interior: busque la lista de adjuntos.`,
    page: `Cómo abrirlo
En un ordenador o un teléfono: guarde el archivo y ábralo en su navegador. Pide la contraseña y muestra por sí mismo el texto y los archivos; no hay que instalar nada, y funciona sin red.`,
  },
  rename: (from, to) =>
    `Ante todo: su nombre termina en «.${from}», porque algunas pasarelas de correo rechazan la terminación habitual. Guárdelo y cambie la terminación por «.${to}».`,
  text: (sender, office, password) => `Contraseña del archivo bloqueado de ${sender}, ${office}: ${password}`,
  packed:
    'Los archivos solo están agrupados para viajar juntos. No están protegidos: cualquiera que esté en su camino puede leerlos.',
  from: 'De',
  to: 'Para',
  cc: 'Copia',
  date: 'Fecha',
  subject: 'Asunto',
  reference: 'Referencia',
  files: 'Archivos',
  messageName: 'Mensaje',
};
