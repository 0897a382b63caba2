/** Accounts: invited, set up, signed in, recovered. What arrives here was derived in the browser; no password ever does. */
import { randomBytes, randomUUID } from 'node:crypto';
import { isAcceptableHashing, RECOMMENDED_HASHING, type PasswordHashing } from '@under-lock/core/account/password';
import { accountAt, oneAtATime } from './addresses';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { type Context } from '../context';
import { run } from '../data/database';
import { AccountRow, type StoredHashing } from '../data/models';
import { invalid, Problem } from '../problem';
import { hashProof, proofMatches } from './proof';
import { endOtherSessions, type SignedIn, startSession, tokenHash } from './session';
import { countFailure, forgiveFailures, refuseWhileBlocked, type Throttle } from './throttle';

export interface NewPassword { hashing: PasswordHashing; authKey: Uint8Array; wrappedSecret: Uint8Array }
export interface NewRecovery { authKey: Uint8Array; wrappedSecret: Uint8Array }
interface SetUp { token: Uint8Array; password: NewPassword; recovery: NewRecovery; device: string; phone?: string | undefined }

const INVITATION_DAYS = 14;

/** Of guesses at what proves an address to be somebody's own. */
const throttlesFor = (purpose: string, address: string, ip: string): Throttle[] => [
  { purpose: `${purpose}/pair`, who: `${addressKey(address)}|${ip}`, free: 2 },
  // Guesses from many places: later, so that a stranger can't easily lock somebody out.
  { purpose: `${purpose}/address`, who: addressKey(address), free: 20 },
  { purpose: `${purpose}/ip`, who: ip, free: 40 },
];

const findByAddress = (address: string): Promise<AccountRow | null> => AccountRow.findOne({ where: { addressKey: addressKey(address) } });

/** The hashing of an account, or a made-up one that stays the same for an address nobody has. */
export async function hashingFor(context: Context, address: string): Promise<PasswordHashing> {
  const account = await findByAddress(address);
  return hashingOf(account) ?? madeUpHashing(context, 'account', address);
}

export const hashingOf = (row: { hashing: StoredHashing | null } | null): PasswordHashing | undefined =>
  row?.hashing == null ? undefined : { ...row.hashing, salt: new Uint8Array(Buffer.from(row.hashing.salt, 'base64url')) };

export const madeUpHashing = (context: Context, of: 'account' | 'reader', address: string): PasswordHashing => ({ ...RECOMMENDED_HASHING, salt: new Uint8Array(context.secrets.keyedHash(`no-${of}-salt`, addressKey(address)).subarray(0, 16)) });

/** Whoever `find` finds under the address, if the proof is theirs. @throws Problem `wrong-password` (also when there is nobody), `too-many-tries` */
export async function prove<Row extends { authHash: string | null }>(context: Context, purpose: string, input: { address: string; authKey: Uint8Array; ip: string }, find: (address: string) => Promise<Row | null>): Promise<Row> {
  const throttles = throttlesFor(purpose, input.address, input.ip);
  await refuseWhileBlocked(context, throttles);
  const found = await find(input.address);
  if (!(await proofMatches(found?.authHash, input.authKey)) || found === null) {
    await countFailure(context, throttles);
    throw new Problem('wrong-password', 401, 'Address or password is wrong');
  }
  await forgiveFailures(context, throttles.slice(0, 1));
  return found;
}

/** @throws Problem `wrong-password`, `too-many-tries` */
export async function signIn(context: Context, input: { address: string; authKey: Uint8Array; device: string; ip: string }): Promise<{ account: AccountRow; token: string }> {
  const account = await prove(context, 'sign-in', input, findByAddress);
  return { account, token: await startSession(context, account, input.device) };
}

export function storedPassword({ hashing, authKey, wrappedSecret }: NewPassword): Promise<{ hashing: StoredHashing; authHash: string; wrappedSecret: Buffer }> {
  if (!isAcceptableHashing(hashing)) throw invalid('The password hashing is weaker than this office allows.');
  const stored = { ...hashing, salt: Buffer.from(hashing.salt).toString('base64url') };
  return hashProof(authKey).then((authHash) => ({ hashing: stored, authHash, wrappedSecret: Buffer.from(wrappedSecret) }));
}

const storedRecovery = async ({ authKey, wrappedSecret }: NewRecovery): Promise<{ recoveryAuthHash: string; recoveryWrappedSecret: Buffer }> => ({
  recoveryAuthHash: await hashProof(authKey),
  recoveryWrappedSecret: Buffer.from(wrappedSecret),
});

/** @throws Problem `wrong-password`, `too-many-tries`. */
export async function confirmPassword(context: Context, account: { id: string; authHash: string | null }, currentAuthKey: Uint8Array): Promise<void> {
  const throttles = [{ purpose: 'confirm', who: account.id, free: 3 }];
  await refuseWhileBlocked(context, throttles);
  if (!(await proofMatches(account.authHash, currentAuthKey))) {
    await countFailure(context, throttles);
    throw new Problem('wrong-password', 401, 'The current password is wrong');
  }
  await forgiveFailures(context, throttles);
}

/** Changes the password and signs every other device out: whoever knew the old one is gone. */
export async function changePassword(context: Context, who: SignedIn, currentAuthKey: Uint8Array, password: NewPassword): Promise<void> {
  await confirmPassword(context, who.account, currentAuthKey);
  await who.account.update(await storedPassword(password));
  await endOtherSessions(context, who);
}

export async function replaceRecoveryCode(context: Context, who: SignedIn, currentAuthKey: Uint8Array, recovery: NewRecovery): Promise<void> {
  await confirmPassword(context, who.account, currentAuthKey);
  await who.account.update(await storedRecovery(recovery));
}

/** The account a recovery code opens. @throws Problem `wrong-recovery-code`, `too-many-tries`. */
export async function accountForRecovery(context: Context, input: { address: string; recoveryAuthKey: Uint8Array; ip: string }): Promise<AccountRow & { recoveryWrappedSecret: Buffer }> {
  const throttles = throttlesFor('recovery', input.address, input.ip);
  await refuseWhileBlocked(context, throttles);
  const account = await findByAddress(input.address);
  if (!(await proofMatches(account?.recoveryAuthHash, input.recoveryAuthKey)) || account?.recoveryWrappedSecret == null) {
    await countFailure(context, throttles);
    throw new Problem('wrong-recovery-code', 401, 'Address or recovery code is wrong');
  }
  return account as AccountRow & { recoveryWrappedSecret: Buffer };
}

/** Sets a new password and a new code (the old one has been typed and is spent), and signs every device out. */
export async function recover(
  context: Context,
  input: { address: string; recoveryAuthKey: Uint8Array; password: NewPassword; recovery: NewRecovery; device: string; ip: string },
): Promise<{ account: AccountRow; token: string }> {
  const account = await accountForRecovery(context, input);
  await account.update({ ...(await storedPassword(input.password)), ...(await storedRecovery(input.recovery)) });
  await run(context.db, 'DELETE FROM sessions WHERE account_id = $1', [account.id]);
  return { account, token: await startSession(context, account, input.device) };
}

/** Makes an account that waits to be set up, or renews its invitation; returns the invitation's token. @throws Problem `conflict` when it is set up already. */
export async function invite(context: Context, input: { address: string; name: string; title: string; role?: 'worker' | 'administrator' }): Promise<{ token: string; until: Date }> {
  const checked = checkAddress(input.address);
  if (!checked.ok || !checked.address.endsWith(`@${context.config.office.mailDomain}`)) throw invalid(`The address must be one of ${context.config.office.mailDomain}.`);
  const token = randomBytes(32);
  const until = new Date(context.clock().getTime() + INVITATION_DAYS * 86_400_000);
  const invitation = { invitationHash: tokenHash(token), invitationUntil: until };
  await context.db.transaction(async (transaction) => {
    await oneAtATime(context, transaction);
    const existing = await accountAt(context, checked.address, transaction);
    if (existing !== null && existing.addressKey !== addressKey(checked.address)) throw new Problem('conflict', 409, 'The address is taken', { detail: `This is a further address of ${existing.name}.` });
    if (existing?.authHash != null) throw new Problem('conflict', 409, 'This account is set up already');
    if (existing !== null) await existing.update(invitation, { transaction });
    else {
      await AccountRow.create(
        { id: randomUUID(), address: checked.address, addressKey: addressKey(checked.address), name: input.name, title: input.title, role: input.role ?? 'worker', createdAt: context.clock(), ...invitation },
        { transaction },
      );
    }
  });
  return { token: token.toString('base64url'), until };
}

/** @throws Problem `wrong-link` when the invitation is unknown, used or over. */
export async function invitedAccount(context: Context, token: Uint8Array): Promise<AccountRow> {
  const account = await AccountRow.findOne({ where: { invitationHash: tokenHash(token) } });
  if (account?.invitationUntil == null || account.invitationUntil <= context.clock()) throw new Problem('wrong-link', 404, 'This invitation is not valid');
  return account;
}

export async function setUp(context: Context, input: SetUp): Promise<{ account: AccountRow; token: string }> {
  const account = await invitedAccount(context, input.token);
  const password = await storedPassword(input.password);
  const recovery = await storedRecovery(input.recovery);
  // The hash in the condition lets only one of two parallel set-ups win.
  const [changed] = await AccountRow.update(
    { ...password, ...recovery, phone: input.phone ?? null, invitationHash: null, invitationUntil: null },
    { where: { id: account.id, invitationHash: tokenHash(input.token) } },
  );
  if (changed === 0) throw new Problem('wrong-link', 404, 'This invitation is not valid');
  return { account: await account.reload(), token: await startSession(context, account, input.device) };
}
