/**
 * Programs differ in how they spell other characters for PBES2 and the MAC. Apart from the writing, so that a page can
 * know the rule.
 */
export const isPortablePassword = (password: string): boolean => /^[\x20-\x7e]+$/.test(password);
