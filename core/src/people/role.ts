/** How somebody is written to (RFC 5322 §3.6.3): named to everybody, or to nobody but the sender. */
export const RECIPIENT_ROLES = ['to', 'cc', 'bcc'] as const;
export type RecipientRole = (typeof RECIPIENT_ROLES)[number];
