/**
 * A registered reader's account, away from the page: passwords come in, only derived keys and sealed values go out.
 * Loaded only by who has an account or makes one.
 */
import { openFrom, openSummary, type PublicKey, sealSummary, shareContext } from '@under-lock/core/account/key-pair';
import { type PasswordHashing, type PasswordKeys, passwordKeys } from '@under-lock/core/account/password';
import { changeProtection, type ProtectedByPassword } from '@under-lock/core/account/protect';
import {
  makeReaderAccount,
  type NewReaderAccount,
  openPrivateKey,
  openReaderDraft,
  openWrittenKey,
  type ReaderDraft,
  sealReaderDraft,
  sealWrittenKey,
} from '@under-lock/core/account/reader-account';
import { unwrapSecret, vaultKey } from '@under-lock/core/account/secret';
import { type Bytes, concat } from '@under-lock/core/bytes';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import { type MessageContent } from '@under-lock/core/message/content';
import { accessTo, sealedToAccount, sealWritten } from '@under-lock/core/outgoing/access';
import { type TakenAlong } from '@under-lock/core/taking-along/archive';
import { expose } from 'comlink';
import { attached } from '../attached';
import { keyShelf } from '../key-shelf';

export interface Own {
  readerId: string;
  sealedPrivateKey: Bytes;
}
export interface WrittenToSeal {
  message: Omit<MessageContent, 'files'>;
  files: File[];
  to: PublicKey;
  own: PublicKey;
}
export interface SealedWritten {
  id: string;
  contentBlobId: string;
  content: Bytes;
  ownKey: Bytes;
  ownSummary: Bytes;
  grant: { id: string; houseShare: Bytes; wrappedKey: Bytes; sealedShare: Bytes; sealedSummary: Bytes };
}

/** What opens the account across pages, until its reader signs out. */
const {
  keep: keepKey,
  kept: keptKey,
  forget: forgetKey,
} = keyShelf<{ readerId: string; key: CryptoKey }>('under-lock-reader', 'account');

let signingIn: PasswordKeys | undefined;
let open: { readerId: string; privateKey: Bytes } | undefined;

async function privateKey({ readerId, sealedPrivateKey }: Own): Promise<Bytes> {
  if (open?.readerId === readerId) return open.privateKey;
  const kept = await keptKey();
  if (kept?.readerId !== readerId) throw new Error('locked');
  open = { readerId, privateKey: await openPrivateKey(kept.key, sealedPrivateKey, readerId) };
  return open.privateKey;
}

const door = {
  async create(password: string): Promise<NewReaderAccount> {
    const { account, unlocked } = await makeReaderAccount(crypto.randomUUID(), password);
    open = undefined;
    await keepKey({ readerId: account.id, key: unlocked });
    return account;
  },
  /** What proves the password to the server; the other half waits for `unlock`. */
  async authKey(password: string, hashing: PasswordHashing): Promise<Bytes> {
    signingIn = await passwordKeys(password, hashing);
    return signingIn.authKey;
  },
  async unlock(readerId: string, wrappedSecret: Bytes): Promise<void> {
    if (signingIn === undefined) throw new Error('locked');
    const secret = await unwrapSecret(signingIn.unlockKey, wrappedSecret, readerId);
    signingIn = undefined;
    open = undefined;
    await keepKey({ readerId, key: await vaultKey(secret) });
    secret.fill(0);
  },
  /** Whether this browser still holds what opens the account. */
  isOpen: async (readerId: string): Promise<boolean> => (await keptKey())?.readerId === readerId,
  async lock(): Promise<void> {
    open = undefined;
    signingIn = undefined;
    await forgetKey();
  },
  /** @throws SealError when `current` is wrong */
  changePassword: (
    readerId: string,
    kept: { hashing: PasswordHashing; wrappedSecret: Bytes },
    current: string,
    next: string,
  ): Promise<{ currentAuthKey: Bytes; password: ProtectedByPassword }> =>
    changeProtection(readerId, kept, current, next),
  share: async (own: Own, sealedShare: Bytes, grantId: string): Promise<Bytes> =>
    openFrom(await privateKey(own), sealedShare, shareContext(grantId)),
  /** The subjects of a page of the list; undefined where something does not open. */
  async subjects(
    own: Own,
    items: { grantId: string; share: Bytes; summary: Bytes }[],
  ): Promise<(string | undefined)[]> {
    const key = await privateKey(own);
    return Promise.all(
      items.map(async ({ grantId, share, summary }) => {
        try {
          return (await openSummary(summary, await openFrom(key, share, shareContext(grantId)), grantId)).subject;
        } catch {
          return undefined; // one damaged line must not hide the others
        }
      }),
    );
  },
  /** The share of a link, sealed for the account it is kept in. */
  async keep(
    own: PublicKey,
    share: Bytes,
    grantId: string,
    subject: string,
  ): Promise<{ sealedShare: Bytes; sealedSummary: Bytes }> {
    return sealedToAccount(own, share, { grantId, subject });
  },
  async write({ message, files, to, own }: WrittenToSeal): Promise<SealedWritten> {
    const id = crypto.randomUUID();
    const { subject } = message;
    const { key, content } = await sealWritten({ ...message, files: await attached(files) });
    const access = await accessTo(key, id, crypto.randomUUID());
    return {
      id,
      contentBlobId: crypto.randomUUID(),
      content,
      ownKey: await sealWrittenKey(own, key, id),
      ownSummary: await sealSummary({ subject }, key, id),
      grant: {
        id: access.id,
        ...access.halves,
        ...(await sealedToAccount(to, access.readerShare, { grantId: access.id, subject })),
      },
    };
  },
  async writtenSubjects(
    own: Own,
    items: { id: string; ownKey: Bytes; ownSummary: Bytes }[],
  ): Promise<(string | undefined)[]> {
    const key = await privateKey(own);
    return Promise.all(
      items.map(({ id, ownKey, ownSummary }) =>
        openWrittenKey(key, ownKey, id)
          .then((contentKey) => openSummary(ownSummary, contentKey, id))
          .then(
            ({ subject }) => subject,
            () => undefined,
          ),
      ),
    );
  },
  sealDraft: (own: PublicKey, readerId: string, id: string, draft: ReaderDraft): Promise<Bytes> =>
    sealReaderDraft(own, readerId, id, draft),
  /** One that does not open is left out: it hides none of the others. */
  async drafts(own: Own, items: { id: string; sealed: Bytes }[]): Promise<(ReaderDraft | undefined)[]> {
    const key = await privateKey(own);
    return Promise.all(
      items.map(({ id, sealed }) => openReaderDraft(key, sealed, own.readerId, id).catch(() => undefined)),
    );
  },
  archive: async (of: TakenAlong): Promise<Bytes> =>
    (await import('@under-lock/core/taking-along/archive')).archive(of),
  async openWritten(own: Own, parts: Bytes[], ownKey: Bytes, id: string): Promise<MessageContent> {
    return openFromRoom({ content: concat(...parts), key: await openWrittenKey(await privateKey(own), ownKey, id) });
  },
};
export type AccountDoor = typeof door;

expose(door);
