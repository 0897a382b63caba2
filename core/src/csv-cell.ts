/** Cells of a table that spreadsheets open: what begins like a formula is taken for one and run; an apostrophe makes it text. */
const FORMULA = /^[=+\-@\t\r]/;

export const guardedCell = (text: string): string => (FORMULA.test(text) || text.startsWith("'") ? `'${text}` : text);

/** The reverse of {@link guardedCell}; what somebody else wrote stays as it is. */
export const unguardedCell = (text: string): string =>
  text.startsWith("'") && (FORMULA.test(text.slice(1)) || text.startsWith("''")) ? text.slice(1) : text;
