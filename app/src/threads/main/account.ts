/** The worker's account in the worker thread: passwords come in, only derived keys and wrapped secrets go out. */
import { passwordKeys, type PasswordHashing, type PasswordKeys } from '@under-lock/core/account/password';
import { changeProtection, type ProtectedByPassword, protectWithPassword } from '@under-lock/core/account/protect';
import { makeRecoveryCode, readRecoveryCode, recoveryKeys } from '@under-lock/core/account/recovery';
import { makeAccountSecret, unwrapSecret, vaultKey, wrapSecret } from '@under-lock/core/account/secret';
import { type Bytes } from '@under-lock/core/bytes';
import { extendVaultKey, forgetVaultKey, keepVaultKey, keptVaultKey, type OpenVault } from '../vault-key';

let vault: OpenVault | undefined;
let signingIn: PasswordKeys | undefined;

/** Why it can't be done: the vault has been locked in this browser. */
export class VaultLockedError extends Error {
  constructor() {
    super('vault-locked');
    this.name = 'VaultLockedError';
  }
}

export function openedVault(): OpenVault {
  if (vault === undefined) throw new VaultLockedError();
  return vault;
}

/** Until the page says how long somebody may be away. */
const FIRST_MS = 5 * 60_000;

async function openWith(accountId: string, secret: Bytes): Promise<void> {
  vault = { accountId, key: await vaultKey(secret) };
  await keepVaultKey(vault, Date.now() + FIRST_MS);
}

export interface NewRecovery {
  authKey: Bytes;
  wrappedSecret: Bytes;
}

async function protectWithRecovery(accountId: string, secret: Bytes): Promise<{ code: string; recovery: NewRecovery }> {
  const code = await makeRecoveryCode();
  const { authKey, unlockKey } = await recoveryKeys(await readRecoveryCode(code));
  return { code, recovery: { authKey, wrappedSecret: await wrapSecret(unlockKey, secret, accountId) } };
}

export const account = {
  /** What proves the password to the server. The other half waits here for {@link account.unlock}. */
  async authKey(password: string, hashing: PasswordHashing): Promise<Bytes> {
    signingIn = await passwordKeys(password, hashing);
    return signingIn.authKey;
  },
  /** Opens the vault with what the last `authKey` derived. Throws SealError when the password was wrong. */
  async unlock(accountId: string, wrappedSecret: Bytes): Promise<void> {
    if (signingIn === undefined) throw new VaultLockedError();
    const secret = await unwrapSecret(signingIn.unlockKey, wrappedSecret, accountId);
    signingIn = undefined;
    await openWith(accountId, secret);
    secret.fill(0);
  },
  /** After a reload: true when this browser still holds the key of that account. */
  async restore(accountId: string): Promise<boolean> {
    vault ??= await keptVaultKey();
    if (vault !== undefined && vault.accountId !== accountId) await account.lock();
    return vault !== undefined;
  },
  /** Somebody is at work: the vault stays open for so long from now on, also without this tab. */
  extend: (milliseconds: number): Promise<void> => extendVaultKey(Date.now() + milliseconds),
  async lock(): Promise<void> {
    vault = undefined;
    signingIn = undefined;
    await forgetVaultKey();
  },
  /** Everything a new account leaves with the server, and the code to print. Opens the vault. */
  async create(
    accountId: string,
    password: string,
  ): Promise<{ password: ProtectedByPassword; recovery: NewRecovery; code: string }> {
    const secret = makeAccountSecret();
    const made = {
      password: await protectWithPassword(accountId, secret, password),
      ...(await protectWithRecovery(accountId, secret)),
    };
    await openWith(accountId, secret);
    secret.fill(0);
    return made;
  },
  /** Throws SealError when `current` is wrong. */
  async changePassword(
    accountId: string,
    current: string,
    hashing: PasswordHashing,
    wrappedSecret: Bytes,
    next: string,
  ): Promise<{ currentAuthKey: Bytes; password: ProtectedByPassword }> {
    return changeProtection(accountId, { hashing, wrappedSecret }, current, next);
  },
  async replaceRecoveryCode(
    accountId: string,
    current: string,
    hashing: PasswordHashing,
    wrappedSecret: Bytes,
  ): Promise<{ currentAuthKey: Bytes; recovery: NewRecovery; code: string }> {
    const keys = await passwordKeys(current, hashing);
    const secret = await unwrapSecret(keys.unlockKey, wrappedSecret, accountId);
    return { currentAuthKey: keys.authKey, ...(await protectWithRecovery(accountId, secret)) };
  },
  /** Throws RecoveryCodeError on a mistyped code. */
  recoveryAuthKey: async (code: string): Promise<Bytes> => (await recoveryKeys(await readRecoveryCode(code))).authKey,
  /** From a recovery code to a new password and a new code. Opens the vault. */
  async recover(
    accountId: string,
    code: string,
    wrappedSecret: Bytes,
    password: string,
  ): Promise<{ password: ProtectedByPassword; recovery: NewRecovery; code: string }> {
    const { unlockKey } = await recoveryKeys(await readRecoveryCode(code));
    const secret = await unwrapSecret(unlockKey, wrappedSecret, accountId);
    const made = {
      password: await protectWithPassword(accountId, secret, password),
      ...(await protectWithRecovery(accountId, secret)),
    };
    await openWith(accountId, secret);
    return made;
  },
};
