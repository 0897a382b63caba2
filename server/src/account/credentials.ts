/**
 * What proves and opens an account, as it lies in the tables: the hashing's salt, the hash of the proof, the wrapped
 * secret, each sealed under the server's secret and bound to its owner. Who has a copied database alone can't even
 * begin to guess at a password.
 */
import { type PasswordHashing } from '@under-lock/core/account/password';
import { type Context } from '../context';
import { type StoredHashing } from '../data/models';
import { RING } from '../secrets';

export type Owner = 'account' | 'reader';
export const CREDENTIALS = [
  'salt',
  'auth-hash',
  'wrapped-secret',
  'recovery-auth-hash',
  'recovery-wrapped-secret',
  'private-key',
] as const;
export type Credential = (typeof CREDENTIALS)[number];

/** Before sealed text in a column of text. */
export const SEALED = 'sealed.';

export const credentialContext = (of: Owner, id: string, what: Credential): string => `${of}/${id}/${what}`;

export const isSealedText = (text: string): boolean => text.startsWith(SEALED);
export const isSealedBytes = (bytes: Uint8Array): boolean => bytes[0] === RING;

export const sealedText = async (
  { secrets }: Context,
  of: Owner,
  id: string,
  what: Credential,
  text: string,
): Promise<string> => SEALED + (await secrets.sealText(text, credentialContext(of, id, what))).toString('base64url');
export const sealedBytes = (
  { secrets }: Context,
  of: Owner,
  id: string,
  what: Credential,
  bytes: Uint8Array,
): Promise<Buffer> => secrets.sealBytes(bytes, credentialContext(of, id, what));

const sealedTextBytes = (text: string): Buffer => Buffer.from(text.slice(SEALED.length), 'base64url');

/** Rows of the time before hold it open; they are sealed by the next round of reseal.ts. */
export const openedText = async (
  { secrets }: Context,
  of: Owner,
  id: string,
  what: Credential,
  text: string,
): Promise<string> =>
  isSealedText(text) ? secrets.openText(sealedTextBytes(text), credentialContext(of, id, what)) : text;
export const openedBytes = async (
  { secrets }: Context,
  of: Owner,
  id: string,
  what: Credential,
  bytes: Buffer,
): Promise<Uint8Array<ArrayBuffer>> =>
  isSealedBytes(bytes) ? secrets.openBytes(bytes, credentialContext(of, id, what)) : new Uint8Array(bytes);

interface WithHashing {
  id: string;
  hashing: StoredHashing | null;
}

export async function hashingOf(
  context: Context,
  of: Owner,
  row: WithHashing | null,
): Promise<PasswordHashing | undefined> {
  if (row?.hashing == null) return undefined;
  return {
    ...row.hashing,
    salt: new Uint8Array(Buffer.from(await openedText(context, of, row.id, 'salt', row.hashing.salt), 'base64url')),
  };
}

export const proofHashOf = async (
  context: Context,
  of: Owner,
  row: { id: string; authHash: string | null } | null,
): Promise<string | null> =>
  row?.authHash == null ? null : openedText(context, of, row.id, 'auth-hash', row.authHash);
