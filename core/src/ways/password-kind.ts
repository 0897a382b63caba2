export const PASSWORD_KINDS = ['words', 'characters'] as const;
export type PasswordKind = (typeof PASSWORD_KINDS)[number];
