/** NIST SP 800-63B §5.1.1.2 asks for 8 at least and no composition rules; this office asks for 12. Apart from the stretching, so that a page can know the rule without loading Argon2. */
export const PASSWORD_MIN_LENGTH = 12;
export const PASSWORD_MAX_LENGTH = 256;
