import { z } from 'zod';
import { address, bytes, endpoint, id, instant, line } from './endpoint';
import { hashingSchema, publicKeySchema } from './keys';

const authKey = bytes(32, 32);
/** What a new password leaves with the server: never the password. */
const passwordSchema = z.object({ hashing: hashingSchema, authKey, wrappedSecret: bytes(40, 200) });
const recoverySchema = z.object({ authKey, wrappedSecret: bytes(40, 200) });
const device = line(200);

/** E.164. */
const phone = z.string().regex(/^\+[1-9]\d{4,14}$/);
/** `phone` is the person's own, known so that it is never taken for a recipient's. */
export const accountSchema = z.object({
  id,
  address,
  name: z.string(),
  title: z.string(),
  role: z.enum(['worker', 'administrator']),
  phone: phone.optional(),
  /** Further addresses, beside the main one. */ further: z.array(z.string()),
  departments: z.array(z.string()),
  /** Lets messages go that others wrote, where a rule asks for that. */
  mayRelease: z.boolean(),
});

export type Account = z.infer<typeof accountSchema>;

export const sessionSchema = z.object({
  account: accountSchema,
  /** Whether others can seal to this account already; the browser makes its key pair otherwise. */
  hasKey: z.boolean(),
  /** Wants a mail when something is held for them and they have not been here since. */
  toldByMail: z.boolean(),
  /** Where, if not at their own address: then of ordinary mail, too. */
  toldAddress: z.string().optional(),
  /** For unlocking without a second sign-in. */
  hashing: hashingSchema,
  wrappedSecret: bytes(40, 200),
});
export type Session = z.infer<typeof sessionSchema>;

/** Answers alike whether or not the account exists. */
export const startSignIn = endpoint({
  method: 'POST',
  path: '/api/sign-in/start',
  access: 'anybody',
  body: z.object({ address }),
  reply: hashingSchema,
});
export const signIn = endpoint({
  method: 'POST',
  path: '/api/sign-in',
  access: 'anybody',
  body: z.object({ address, authKey, device }),
  reply: sessionSchema,
});
/** Nobody signed in is an answer, not an error: it is what every first page asks. */
export const getSession = endpoint({
  method: 'GET',
  path: '/api/session',
  access: 'anybody',
  reply: z.object({ session: sessionSchema.optional() }),
});
export const signOut = endpoint({ method: 'DELETE', path: '/api/session', access: 'worker' });
export const listSessions = endpoint({
  method: 'GET',
  path: '/api/sessions',
  access: 'worker',
  reply: z.object({
    sessions: z.array(
      z.object({ id, device: z.string(), createdAt: instant, lastSeenAt: instant, current: z.boolean() }),
    ),
  }),
});
export const endOtherSessions = endpoint({
  method: 'DELETE',
  path: '/api/sessions',
  access: 'worker',
  reply: z.object({ ended: z.number() }),
});
export const changePassword = endpoint({
  method: 'POST',
  path: '/api/password',
  access: 'worker',
  body: z.object({ currentAuthKey: authKey, password: passwordSchema }),
});
export const replaceRecoveryCode = endpoint({
  method: 'POST',
  path: '/api/recovery-code',
  access: 'worker',
  body: z.object({ currentAuthKey: authKey, recovery: recoverySchema }),
});
export const startRecovery = endpoint({
  method: 'POST',
  path: '/api/recovery/start',
  access: 'anybody',
  body: z.object({ address, recoveryAuthKey: authKey }),
  reply: z.object({ accountId: id, wrappedSecret: bytes(40, 200) }),
});
export const finishRecovery = endpoint({
  method: 'POST',
  path: '/api/recovery',
  access: 'anybody',
  body: z.object({ address, recoveryAuthKey: authKey, password: passwordSchema, recovery: recoverySchema, device }),
  reply: sessionSchema,
});
const token = bytes(32, 32);
export const lookAtInvitation = endpoint({
  method: 'POST',
  path: '/api/set-up/look',
  access: 'anybody',
  body: z.object({ token }),
  reply: accountSchema,
});
export const setUpAccount = endpoint({
  method: 'POST',
  path: '/api/set-up',
  access: 'anybody',
  body: z.object({ token, password: passwordSchema, recovery: recoverySchema, device, phone: phone.optional() }),
  reply: sessionSchema,
});
export const invite = endpoint({
  method: 'POST',
  path: '/api/invitations',
  access: 'administrator',
  body: z.object({ address, name: line(100), title: line(100) }),
  reply: z.object({ link: z.string(), until: instant }),
});
/** Where somebody works, by which rules and presets may ask. */
export const putDepartments = endpoint({
  method: 'PUT',
  path: '/api/accounts/:id/departments',
  access: 'administrator',
  params: z.object({ id }),
  body: z.object({ departments: z.array(line(80).min(1)).max(20) }),
});
export const putMayRelease = endpoint({
  method: 'PUT',
  path: '/api/accounts/:id/release',
  access: 'administrator',
  params: z.object({ id }),
  body: z.object({ may: z.boolean() }),
});
/** What an account's further addresses are from now on. @see conflict when one is somebody else's */
export const putAddresses = endpoint({
  method: 'PUT',
  path: '/api/accounts/:id/addresses',
  access: 'administrator',
  params: z.object({ id }),
  body: z.object({ addresses: z.array(address).max(20) }),
});
/**
 * Nobody signs in with it from then on. With `withdraw`, what it sent can’t be read any more, either. @see conflict for
 * one's own, and for the last administrator's
 */
export const endAccount = endpoint({
  method: 'POST',
  path: '/api/accounts/:id/end',
  access: 'administrator',
  params: z.object({ id }),
  body: z.object({ withdraw: z.boolean() }),
  reply: z.object({ withdrawn: z.number().int() }),
});
export const reopenAccount = endpoint({
  method: 'POST',
  path: '/api/accounts/:id/reopen',
  access: 'administrator',
  params: z.object({ id }),
});
export const endSessionsOf = endpoint({
  method: 'DELETE',
  path: '/api/accounts/:id/sessions',
  access: 'administrator',
  params: z.object({ id }),
  reply: z.object({ ended: z.number().int() }),
});
export const changeRole = endpoint({
  method: 'PUT',
  path: '/api/accounts/:id/role',
  access: 'administrator',
  params: z.object({ id }),
  body: z.object({ role: z.enum(['worker', 'administrator']) }),
});
/** Told by the browser that did it: what left the vault as a file. */
export const EXPORTS = ['password-book', 'certificate-backup', 'openpgp-backup', 'office-book'] as const;
export const recordExport = endpoint({
  method: 'POST',
  path: '/api/account/exports',
  access: 'worker',
  body: z.object({ what: z.enum(EXPORTS) }),
});
export const setOwnPhone = endpoint({
  method: 'PUT',
  path: '/api/account/phone',
  access: 'worker',
  body: z.object({ phone: phone.optional() }),
});
/** @see invalid-input for an address whose mail comes in here */
export const setToldByMail = endpoint({
  method: 'PUT',
  path: '/api/account/told',
  access: 'worker',
  body: z.object({ byMail: z.boolean(), /** Their own where it is left out. */ address: address.optional() }),
});
export const listColleagues = endpoint({
  method: 'GET',
  path: '/api/colleagues',
  access: 'worker',
  byDoor: true,
  reply: z.object({
    colleagues: z.array(
      accountSchema.extend({
        setUp: z.boolean(),
        /** Its account has ended; it can’t be written to. */ endedAt: instant.optional(),
        key: publicKeySchema.optional(),
      }),
    ),
  }),
});
/**
 * The account's key pair, once: the public half for others, the private one sealed for the vault (kind `account-key`,
 * the account's id). @see conflict when there is one.
 */
export const putAccountKey = endpoint({
  method: 'PUT',
  path: '/api/account/key',
  access: 'worker',
  body: publicKeySchema.extend({ sealedPrivateKey: bytes(29, 4000) }),
});
