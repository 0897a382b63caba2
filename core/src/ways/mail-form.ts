/**
 * `mime`: RFC 3156. `attachments`: text and files apart, for programs that know no OpenPGP and are helped by another.
 */
export const OPENPGP_FORMS = ['mime', 'attachments'] as const;
export type OpenPgpMailForm = (typeof OPENPGP_FORMS)[number];
