/** What there is of several things, side by side; what is empty leaves no mark between. */
export const inOneLine = (...parts: readonly string[]): string => parts.filter((one) => one !== '').join(' · ');
