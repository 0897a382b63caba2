/** A sentence's beginning, and what is put into one. */
export const capitalised = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Within a sentence: a name keeps its capital. */
export const firstLower = (text: string): string =>
  text.startsWith('OpenPGP') ? text : text.charAt(0).toLowerCase() + text.slice(1);
