/** Whether a password stands in what is about to be mailed. */

export type PasswordPlace = 'subject' | 'text' | 'file-name';

/** What a mailer, a phone's keyboard or a person changes without meaning to: capitals, accents' spelling, blanks, the kind of dash. */
const bare = (text: string): string => text.normalize('NFKC').toLowerCase().replace(/[\p{Cf}\s]+/gu, '').replace(/[\p{Pd}_]+/gu, '-');
/** Parted otherwise: words of a passphrase written with blanks. */
const unparted = (text: string): string => bare(text).replace(/[-.,;:/+]+/g, '');

/** Less than this would be found in any text. */
const SHORTEST = 4;

export function passwordPlace(password: string, { subject, text, fileNames }: { subject: string; text: string; fileNames: readonly string[] }): PasswordPlace | undefined {
  const wanted = unparted(password);
  if (wanted.length < SHORTEST) return undefined;
  const stands = (where: string): boolean => unparted(where).includes(wanted);
  if (stands(subject)) return 'subject';
  if (stands(text)) return 'text';
  return fileNames.some(stands) ? 'file-name' : undefined;
}
