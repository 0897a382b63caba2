/** A thread that does to a mail what its number says. */
export default async function dealt({ mail: { id } }) {
  if (id.startsWith('hangs')) for (;;);
  if (id.startsWith('ends')) process.exit(1);
  if (id.startsWith('fails')) throw new Error('It can’t be done');
  if (id.startsWith('later')) return { became: 'later', because: 'No connection to the server' };
  return { became: 'sent' };
}
