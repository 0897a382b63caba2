import { type CarriedWords } from './en';

export const catalogue: CarriedWords = {
  title: (sender) => `${sender} le ha enviado un mensaje en un archivo`,
  says: 'Está sellado en el archivo que llegó con el correo. Entregue el archivo a esta página: se queda en su navegador y no se envía a ninguna parte.',
  until: (date, distance) => `Se puede abrir hasta: ${date}, ${distance}.`,
  choose: 'Elegir el archivo',
  orDrop: 'O suéltelo en cualquier lugar de esta página.',
  field: 'El archivo que llegó con el correo',
  looking: 'Se está recibiendo el archivo',
  notOurs: (name) =>
    `«${name}» no es un archivo nuestro, o le falta una parte. Tome el que llegó con el correo; su nombre dice «mensaje-bajo-llave». Si eso no ayuda, guárdelo otra vez desde el correo.`,
  another: (name) => `«${name}» pertenece a otro mensaje. Tome el del mismo correo que este enlace.`,
  elsewhere: (name, where) => `«${name}» pertenece a la sala de lectura de otra casa, en ${where}. Ábralo allí.`,
  tooLarge: (name) => `«${name}» es demasiado grande para ser un mensaje nuestro.`,
  noLink: (name) =>
    `«${name}» ha perdido por el camino una parte de su clave. Guárdelo otra vez desde el correo y, si no ayuda, pida al remitente que lo envíe de nuevo.`,
};
