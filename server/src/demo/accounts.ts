/** People of the demo with accounts, as their own browsers would have made them. */
import { vaultKind } from '@under-lock/contract/vault';
import { makeKeyPair, type PublicKey } from '@under-lock/core/account/key-pair';
import { passwordKeys, RECOMMENDED_HASHING } from '@under-lock/core/account/password';
import { makeReaderAccount } from '@under-lock/core/account/reader-account';
import { makeRecoveryCode, readRecoveryCode, recoveryKeys } from '@under-lock/core/account/recovery';
import { makeAccountSecret, vaultKey, wrapSecret } from '@under-lock/core/account/secret';
import { randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { sealItem } from '@under-lock/core/vault/item';
import { briefMemory } from '@under-lock/core/vault/memory';
import { createShelf, type Shelf } from '@under-lock/core/vault/shelf';
import { randomUUID } from 'node:crypto';
import { invite, invitedAccount, setUp, storedPassword } from '../account/account';
import { sealedBytes } from '../account/credentials';
import { keepAccountKey } from '../account/key';
import { endSessions } from '../account/session';
import { type Context } from '../context';
import { type AccountRow, ReaderRow } from '../data/models';
import { dropItem, getItem, listItems, putItem, putManifest } from '../vault/vault';
import { type staff } from './office';

const DAY = 86_400_000;

export interface DemoSignIn {
  address: string;
  password: string;
  recoveryCode: string;
  name: string;
}

export interface Worker {
  account: AccountRow;
  key: CryptoKey;
  pair: PublicKey;
}

export interface RegisteredRecipient {
  readerId: string;
  key: PublicKey;
}

/** Somebody outside who has set a password at an earlier visit. */
export async function makeReader(
  context: Context,
  { name, address }: Correspondent,
  password: string,
): Promise<RegisteredRecipient> {
  const {
    account: { id, key, password: kept },
  } = await makeReaderAccount(randomUUID(), password);
  await ReaderRow.create({
    id,
    address,
    addressKey: addressKey(address),
    name,
    language: 'en',
    ...(await storedPassword(context, 'reader', id, kept)),
    publicKey: Buffer.from(key.publicKey),
    keySuite: key.suite,
    sealedPrivateKey: await sealedBytes(context, 'reader', id, 'private-key', key.sealedPrivateKey),
    knownBy: 'text',
    since: new Date(context.clock().getTime() - 20 * DAY),
  });
  return { readerId: id, key };
}

export async function makeWorker(
  context: Context,
  one: (typeof staff)[number],
): Promise<{ worker: Worker; signIn: DemoSignIn }> {
  const address = `${one.local}@${context.config.office.mailDomain}`;
  const { token } = await invite(context, { address, name: one.name, title: one.title, role: one.role });
  const tokenBytes = new Uint8Array(Buffer.from(token, 'base64url'));
  const invited = await invitedAccount(context, tokenBytes);
  const secret = makeAccountSecret();
  const hashing = { ...RECOMMENDED_HASHING, salt: randomBytes(16) };
  const keys = await passwordKeys(one.password, hashing);
  const recoveryCode = await makeRecoveryCode();
  const recovery = await recoveryKeys(await readRecoveryCode(recoveryCode));
  const { account } = await setUp(context, {
    token: tokenBytes,
    device: 'Demo',
    phone: one.phone,
    password: { hashing, authKey: keys.authKey, wrappedSecret: await wrapSecret(keys.unlockKey, secret, invited.id) },
    recovery: { authKey: recovery.authKey, wrappedSecret: await wrapSecret(recovery.unlockKey, secret, invited.id) },
  });
  await endSessions(context, account.id);
  const key = await vaultKey(secret);
  const pair = await makeKeyPair();
  await keepAccountKey(context, account, {
    ...pair,
    sealedPrivateKey: await sealItem(key, 'account-key', account.id, {
      suite: pair.suite,
      privateKey: toBase64Url(pair.privateKey),
    }),
  });
  return {
    worker: { account: await account.reload(), key, pair },
    signIn: { address, password: one.password, recoveryCode, name: one.name },
  };
}

/** The vault as the worker's own browser would have filled it. */
export function shelfOf(context: Context, { account, key }: Worker): Shelf {
  return createShelf({
    key: async () => key,
    memory: briefMemory(),
    door: {
      list: (kind) => listItems(context, account.id, kind, {}),
      read: (kind, id) => getItem(context, account.id, kind, id),
      put: async (kind, id, change) =>
        void (await putItem(context, { accountId: account.id, kind: vaultKind.parse(kind), id, ...change })),
      drop: (kind, id, manifest) =>
        dropItem(context, { accountId: account.id, kind: vaultKind.parse(kind), id, manifest }),
      putManifest: (kind, manifest) => putManifest(context, account.id, kind, manifest),
      isBehind: () => false,
    },
  });
}
