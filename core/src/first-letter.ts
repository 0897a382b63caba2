/** A sentence's beginning, and what is put into one. */
export const capitalised = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Within a sentence: a name and an abbreviation keep their capital. */
export const firstLower = (text: string): string =>
  /^(?:OpenPGP|.[A-Z/])/.test(text) ? text : text.charAt(0).toLowerCase() + text.slice(1);
