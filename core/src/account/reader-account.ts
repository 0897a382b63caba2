/**
 * A registered reader's account: the same two keys from one password as for staff, and a key pair whose private half
 * is sealed under the
 * account's secret. There is no recovery code: what was sealed to a forgotten password is given again by its sender.
 */
import { type Bytes, fromUtf8, utf8 } from '../bytes';
import { seal, unseal } from '../sealing';
import { makeKeyPair, openFrom, type PublicKey, sealTo } from './key-pair';
import { type ProtectedByPassword, protectWithPassword } from './protect';
import { makeAccountSecret, vaultKey } from './secret';
import { z } from 'zod';

export interface NewReaderAccount {
  id: string;
  password: ProtectedByPassword;
  key: PublicKey & { publicKey: Bytes; sealedPrivateKey: Bytes };
}

/** What a reader is writing; its files are chosen when it is sent. */
export const readerDraftSchema = z.object({
  /** The colleague it is for. */
  to: z.string().max(100),
  subject: z.string().max(300),
  text: z.string().max(100_000),
});
export type ReaderDraft = z.infer<typeof readerDraftSchema>;

const draftContext = (readerId: string, id: string): string => `under-lock/reader/draft/v1/${readerId}/${id}`;
const privateKeyContext = (readerId: string): string => `under-lock/reader/private-key/v1/${readerId}`;
const writtenContext = (messageId: string): string => `under-lock/reader/written/v1/${messageId}`;

/** `unlocked` opens the private key again without the password. */
export async function makeReaderAccount(
  id: string,
  password: string,
): Promise<{ account: NewReaderAccount; unlocked: CryptoKey }> {
  const secret = makeAccountSecret();
  const unlocked = await vaultKey(secret);
  const { suite, publicKey, privateKey } = await makeKeyPair();
  const account = {
    id,
    password: await protectWithPassword(id, secret, password),
    key: { suite, publicKey, sealedPrivateKey: await seal(unlocked, privateKey, privateKeyContext(id)) },
  };
  secret.fill(0);
  privateKey.fill(0);
  return { account, unlocked };
}

/** @throws SealError */
export const openPrivateKey = (unlocked: CryptoKey, sealedPrivateKey: Uint8Array, readerId: string): Promise<Bytes> =>
  unseal(unlocked, sealedPrivateKey, privateKeyContext(readerId));

/** The content key of a message a reader began, for themselves. */
export const sealWrittenKey = (own: PublicKey, contentKey: Bytes, messageId: string): Promise<Bytes> =>
  sealTo(own, contentKey, writtenContext(messageId));
/** @throws SealError */
export const openWrittenKey = (privateKey: Bytes, sealed: Uint8Array, messageId: string): Promise<Bytes> =>
  openFrom(privateKey, sealed, writtenContext(messageId));

export const sealReaderDraft = (own: PublicKey, readerId: string, id: string, draft: ReaderDraft): Promise<Bytes> =>
  sealTo(own, utf8(JSON.stringify(draft)), draftContext(readerId, id));
/** @throws SealError, ZodError on what is no draft */
export const openReaderDraft = async (
  privateKey: Bytes,
  sealed: Uint8Array,
  readerId: string,
  id: string,
): Promise<ReaderDraft> =>
  readerDraftSchema.parse(JSON.parse(fromUtf8(await openFrom(privateKey, sealed, draftContext(readerId, id)))));
