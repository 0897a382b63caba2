/**
 * Accounts: invited, set up, signed in, recovered. What arrives here was derived in the browser; no password ever does.
 */
import { randomBytes, randomUUID } from 'node:crypto';
import { isAcceptableHashing, RECOMMENDED_HASHING, type PasswordHashing } from '@under-lock/core/account/password';
import { accountAt, oneAtATime } from './addresses';
import { addressKey, checkAddress, isAtDomain } from '@under-lock/core/people/address';
import { type Context } from '../context';
import { AccountRow, type StoredHashing } from '../data/models';
import { invalid, Problem } from '../problem';
import { hashingOf, openedBytes, openedText, type Owner, proofHashOf, sealedBytes, sealedText } from './credentials';
import { hashProof, proofMatches } from './proof';
import { requireUncommon } from './uncommon';
import { endOtherSessions, endSessions, type SignedIn, startSession, tokenHash } from './session';
import { type Actor, byAccount, logged, telling } from '../log/log';
import { forgiveTries, giveBack, takeTry, type Throttle, waitTurn } from '../limits/throttle';
import { knownDevice } from './device';
import { placeOf } from './place';

export interface NewPassword {
  hashing: PasswordHashing;
  authKey: Uint8Array;
  wrappedSecret: Uint8Array;
}
export interface NewRecovery {
  authKey: Uint8Array;
  wrappedSecret: Uint8Array;
}
interface SetUp {
  token: Uint8Array;
  password: NewPassword;
  recovery: NewRecovery;
  device: string;
  phone?: string | undefined;
}

const INVITATION_DAYS = 14;

/** Who tries: their address as the net has it, and the cookie of a browser that has signed in before. */
export interface Trier {
  ip: string;
  device?: string | undefined;
}

/**
 * Of guesses at what proves an address to be somebody's own. A browser that has signed in before has a budget of its
 * own, which nobody else can use up.
 * From anywhere else each place has one, for this address and for all; what comes from all places together is slowed
 * down, and never locks the owner out.
 */
function budgetsFor(
  context: Context,
  purpose: string,
  address: string,
  { ip, device }: Trier,
): { own: Throttle; place?: Throttle; everywhere?: Throttle } {
  const who = addressKey(address);
  const known = knownDevice(context, device, address);
  if (known !== undefined) return { own: { purpose: `${purpose}/device`, who: `${who}|${known}`, free: 5 } };
  const place = placeOf(ip);
  return {
    own: { purpose: `${purpose}/pair`, who: `${who}|${place}`, free: 2 },
    place: { purpose: `${purpose}/place`, who: place, free: 40 },
    everywhere: { purpose: `${purpose}/address`, who, free: 20 },
  };
}

/**
 * Takes a try, has `verify` look, and gives back what a right one has not cost. @throws Problem `too-many-tries`, and
 * whatever `verify` throws
 */
async function tried<T>(
  context: Context,
  purpose: string,
  address: string,
  trier: Trier,
  verify: () => Promise<T>,
): Promise<T> {
  const { own, place, everywhere } = budgetsFor(context, purpose, address, trier);
  await takeTry(context, [own, ...(place === undefined ? [] : [place])]);
  if (everywhere !== undefined) await waitTurn(context, everywhere);
  const found = await verify();
  await forgiveTries(context, [own]);
  await giveBack(
    context,
    [place, everywhere].filter((one) => one !== undefined),
  );
  return found;
}

const findByAddress = (address: string): Promise<AccountRow | null> =>
  AccountRow.findOne({ where: { addressKey: addressKey(address), endedAt: null } });

/** The hashing of an account, or a made-up one that stays the same for an address nobody has. */
export async function hashingFor(context: Context, address: string): Promise<PasswordHashing> {
  return (
    (await hashingOf(context, 'account', await findByAddress(address))) ?? madeUpHashing(context, 'account', address)
  );
}

export const madeUpHashing = (context: Context, of: 'account' | 'reader', address: string): PasswordHashing => ({
  ...RECOMMENDED_HASHING,
  salt: new Uint8Array(context.secrets.keyedHash(`no-${of}-salt`, addressKey(address)).subarray(0, 16)),
});

/**
 * Whoever `find` finds under the address, if the proof is theirs. @throws Problem `wrong-password` (also when there is
 * nobody), `too-many-tries`
 */
export function prove<Row extends { id: string; authHash: string | null }>(
  context: Context,
  of: Owner,
  purpose: string,
  input: Trier & { address: string; authKey: Uint8Array },
  find: (address: string) => Promise<Row | null>,
): Promise<Row> {
  return tried(context, purpose, input.address, input, async () => {
    const found = await find(input.address);
    if (!(await proofMatches(await proofHashOf(context, of, found), input.authKey)) || found === null) {
      // Whose address nobody has is not put down: people type passwords into the wrong field.
      if (found !== null)
        await logged(context, {
          kind: of === 'account' ? 'sign-in-refused' : 'reader-sign-in-refused',
          actor: { kind: 'nobody' },
          about: { [of]: found.id, place: placeOf(input.ip) },
        });
      throw new Problem('wrong-password', 401, 'Address or password is wrong');
    }
    return found;
  });
}

/** @throws Problem `wrong-password`, `too-many-tries` */
export async function signIn(
  context: Context,
  input: Trier & { address: string; authKey: Uint8Array; deviceName: string },
): Promise<{ account: AccountRow; token: string }> {
  const account = await prove(context, 'account', 'sign-in', input, findByAddress);
  const isKnown = knownDevice(context, input.device, input.address) !== undefined;
  return {
    account,
    token: await startSession(context, account, input.deviceName, {
      kind: isKnown ? 'signed-in' : 'new-device',
      actor: byAccount(account.id),
      about: { place: placeOf(input.ip), device: input.deviceName },
    }),
  };
}

/** A new password as it lies in the table of its owner. @throws Problem `invalid-input` */
export async function storedPassword(
  context: Context,
  of: Owner,
  id: string,
  password: NewPassword,
): Promise<{ hashing: StoredHashing; authHash: string; wrappedSecret: Buffer }> {
  const { hashing, authKey, wrappedSecret } = password;
  if (!isAcceptableHashing(hashing)) throw invalid('The password hashing is weaker than this office allows.');
  await requireUncommon(password, context.config.commonPasswords);
  return {
    hashing: {
      ...hashing,
      salt: await sealedText(context, of, id, 'salt', Buffer.from(hashing.salt).toString('base64url')),
    },
    authHash: await sealedText(context, of, id, 'auth-hash', await hashProof(authKey)),
    wrappedSecret: await sealedBytes(context, of, id, 'wrapped-secret', wrappedSecret),
  };
}

const storedRecovery = async (
  context: Context,
  id: string,
  { authKey, wrappedSecret }: NewRecovery,
): Promise<{ recoveryAuthHash: string; recoveryWrappedSecret: Buffer }> => ({
  recoveryAuthHash: await sealedText(context, 'account', id, 'recovery-auth-hash', await hashProof(authKey)),
  recoveryWrappedSecret: await sealedBytes(context, 'account', id, 'recovery-wrapped-secret', wrappedSecret),
});

/** @throws Problem `wrong-password`, `too-many-tries`. */
export async function confirmPassword(
  context: Context,
  of: Owner,
  account: { id: string; authHash: string | null },
  currentAuthKey: Uint8Array,
): Promise<void> {
  const budget = [{ purpose: 'confirm', who: account.id, free: 3 }];
  await takeTry(context, budget);
  if (!(await proofMatches(await proofHashOf(context, of, account), currentAuthKey)))
    throw new Problem('wrong-password', 401, 'The current password is wrong');
  await forgiveTries(context, budget);
}

/** Changes the password and signs every other device out: whoever knew the old one is gone. */
export async function changePassword(
  context: Context,
  who: SignedIn,
  currentAuthKey: Uint8Array,
  password: NewPassword,
): Promise<void> {
  await confirmPassword(context, 'account', who.account, currentAuthKey);
  const stored = await storedPassword(context, 'account', who.account.id, password);
  await telling(context, { kind: 'password-changed', actor: byAccount(who.account.id) }, (transaction) =>
    who.account.update(stored, { transaction }),
  );
  await endOtherSessions(context, who);
}

export async function replaceRecoveryCode(
  context: Context,
  who: SignedIn,
  currentAuthKey: Uint8Array,
  recovery: NewRecovery,
): Promise<void> {
  await confirmPassword(context, 'account', who.account, currentAuthKey);
  const stored = await storedRecovery(context, who.account.id, recovery);
  await telling(context, { kind: 'recovery-code-replaced', actor: byAccount(who.account.id) }, (transaction) =>
    who.account.update(stored, { transaction }),
  );
}

/** The account a recovery code opens. @throws Problem `wrong-recovery-code`, `too-many-tries`. */
export function accountForRecovery(
  context: Context,
  input: Trier & { address: string; recoveryAuthKey: Uint8Array },
): Promise<{ account: AccountRow; wrappedSecret: Uint8Array<ArrayBuffer> }> {
  return tried(context, 'recovery', input.address, input, async () => {
    const account = await findByAddress(input.address);
    const hash =
      account?.recoveryAuthHash == null
        ? null
        : await openedText(context, 'account', account.id, 'recovery-auth-hash', account.recoveryAuthHash);
    const isRight = await proofMatches(hash, input.recoveryAuthKey);
    if (!isRight && account !== null)
      await logged(context, {
        kind: 'recovery-refused',
        actor: { kind: 'nobody' },
        about: { account: account.id, place: placeOf(input.ip) },
      });
    if (!isRight || account?.recoveryWrappedSecret == null)
      throw new Problem('wrong-recovery-code', 401, 'Address or recovery code is wrong');
    return {
      account,
      wrappedSecret: await openedBytes(
        context,
        'account',
        account.id,
        'recovery-wrapped-secret',
        account.recoveryWrappedSecret,
      ),
    };
  });
}

/** Sets a new password and a new code (the old one has been typed and is spent), and signs every device out. */
export async function recover(
  context: Context,
  input: Trier & {
    address: string;
    recoveryAuthKey: Uint8Array;
    password: NewPassword;
    recovery: NewRecovery;
    deviceName: string;
  },
): Promise<{ account: AccountRow; token: string }> {
  const { account } = await accountForRecovery(context, input);
  const stored = {
    ...(await storedPassword(context, 'account', account.id, input.password)),
    ...(await storedRecovery(context, account.id, input.recovery)),
  };
  await telling(
    context,
    { kind: 'recovery-used', actor: byAccount(account.id), about: { place: placeOf(input.ip) } },
    async (transaction) => {
      await account.update(stored, { transaction });
      await endSessions(context, account.id, transaction);
    },
  );
  return {
    account,
    token: await startSession(context, account, input.deviceName, {
      kind: 'new-device',
      actor: byAccount(account.id),
      about: { place: placeOf(input.ip), device: input.deviceName },
    }),
  };
}

/**
 * Makes an account that waits to be set up, or renews its invitation; returns the invitation's token. @throws Problem
 * `conflict` when it is set up already.
 */
export async function invite(
  context: Context,
  input: { address: string; name: string; title: string; role?: 'worker' | 'administrator' },
  by: Actor = { kind: 'operator' },
): Promise<{ token: string; until: Date; role: AccountRow['role'] }> {
  const checked = checkAddress(input.address);
  if (!checked.ok || !isAtDomain(checked.address, context.config.office.mailDomain))
    throw invalid(`The address must be one of ${context.config.office.mailDomain}.`);
  const token = randomBytes(32);
  const until = new Date(context.clock().getTime() + INVITATION_DAYS * 86_400_000);
  const invitation = { invitationHash: tokenHash(token), invitationUntil: until };
  const role = await context.db.transaction(async (transaction) => {
    await oneAtATime(context, transaction);
    const existing = await accountAt(context, checked.address, transaction);
    if (existing !== null && existing.addressKey !== addressKey(checked.address))
      throw new Problem('conflict', 409, 'The address is taken', {
        detail: `This is a further address of ${existing.name}.`,
      });
    if (existing?.authHash != null) throw new Problem('conflict', 409, 'This account is set up already');
    if (existing !== null) await existing.update(invitation, { transaction });
    else {
      await AccountRow.create(
        {
          id: randomUUID(),
          address: checked.address,
          addressKey: addressKey(checked.address),
          name: input.name,
          title: input.title,
          role: input.role ?? 'worker',
          createdAt: context.clock(),
          ...invitation,
        },
        { transaction },
      );
    }
    const as = existing?.role ?? input.role ?? 'worker';
    await logged(
      context,
      { kind: 'account-invited', actor: by, about: { address: checked.address, role: as } },
      transaction,
    );
    return as;
  });
  return { token: token.toString('base64url'), until, role };
}

/** @throws Problem `wrong-link` when the invitation is unknown, used or over. */
export async function invitedAccount(context: Context, token: Uint8Array): Promise<AccountRow> {
  const account = await AccountRow.findOne({ where: { invitationHash: tokenHash(token) } });
  if (account?.invitationUntil == null || account.invitationUntil <= context.clock())
    throw new Problem('wrong-link', 404, 'This invitation is not valid');
  return account;
}

export async function setUp(context: Context, input: SetUp): Promise<{ account: AccountRow; token: string }> {
  const account = await invitedAccount(context, input.token);
  const password = await storedPassword(context, 'account', account.id, input.password);
  const recovery = await storedRecovery(context, account.id, input.recovery);
  // The hash in the condition lets only one of two parallel set-ups win.
  await telling(context, { kind: 'account-set-up', actor: byAccount(account.id) }, async (transaction) => {
    const [changed] = await AccountRow.update(
      { ...password, ...recovery, phone: input.phone ?? null, invitationHash: null, invitationUntil: null },
      { where: { id: account.id, invitationHash: tokenHash(input.token) }, transaction },
    );
    if (changed === 0) throw new Problem('wrong-link', 404, 'This invitation is not valid');
  });
  return {
    account: await account.reload(),
    token: await startSession(context, account, input.device, {
      kind: 'new-device',
      actor: byAccount(account.id),
      about: { device: input.device },
    }),
  };
}
