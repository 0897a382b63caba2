/** Whether a password stands in what is about to be mailed. */

export type PasswordPlace = 'subject' | 'text' | 'file-name';

/**
 * What a mailer, a phone's keyboard or a person changes without meaning to: capitals, accents' spelling, blanks, the
 * kind of dash.
 */
const bare = (text: string): string =>
  text
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[\p{Cf}\s]+/gu, '')
    .replace(/[\p{Pd}_]+/gu, '-');
/** Parted otherwise: words of a passphrase written with blanks. */
const unparted = (text: string): string => bare(text).replace(/[-.,;:/+]+/g, '');

/** Less than this would be found in any text. */
const SHORTEST = 4;

export interface Mailed {
  subject: string;
  text: string;
  fileNames: readonly string[];
}

/** Looks at the mail once, for any number of passwords. */
export function passwordFinder({ subject, text, fileNames }: Mailed): (password: string) => PasswordPlace | undefined {
  const [inSubject, inText, inNames] = [unparted(subject), unparted(text), fileNames.map(unparted)];
  return (password) => {
    const wanted = unparted(password);
    if (wanted.length < SHORTEST) return undefined;
    if (inSubject.includes(wanted)) return 'subject';
    if (inText.includes(wanted)) return 'text';
    return inNames.some((name) => name.includes(wanted)) ? 'file-name' : undefined;
  };
}
