/**
 * A certificate or key of a worker's with which the door for mail programs signs in their name: of its own, marked as
 * such, and sealed to the door by their browser.
 */
import { z } from 'zod';
import { openFrom, type PublicKey, sealTo } from '../account/key-pair';
import { type Bytes, fromBase64Url, fromUtf8, toBase64Url, utf8 } from '../bytes';
import { keptKeySchema, type KeptKey } from '../certificate/kept-key';
import { keptOpenPgpSchema, type KeptOpenPgp } from '../openpgp/kept-key';
import { SealError } from '../sealing';

export const SIGNER_KINDS = ['certificate', 'openpgp'] as const;
export type SignerKind = (typeof SIGNER_KINDS)[number];
export const MAX_SIGNER_BYTES = 200_000;

/** As it lies in its owner's vault. */
export type Signer = KeptKey | KeptOpenPgp;
const signerSchema = z.discriminatedUnion('kind', [keptKeySchema, keptOpenPgpSchema]);

/** What recipients read beside the name: it was not their own hand that signed. */
export const markedName = (name: string): string => `${name} by mail program`;

const context = (accountId: string, kind: SignerKind): string => `under-lock/submission/signer/v1/${kind}/${accountId}`;

export const sealSigner = (door: PublicKey, accountId: string, signer: Signer): Promise<Bytes> =>
  sealTo(door, utf8(JSON.stringify(signer)), context(accountId, signer.kind));

/** @throws SealError for what is sealed to another door, or for another account */
export async function openSigner(
  doorPrivate: Bytes,
  accountId: string,
  kind: SignerKind,
  sealed: Uint8Array,
): Promise<Signer> {
  const plain = await openFrom(doorPrivate, sealed, context(accountId, kind));
  const parsed = signerSchema.safeParse(JSON.parse(fromUtf8(plain)));
  if (!parsed.success || parsed.data.kind !== kind) throw new SealError('malformed');
  return parsed.data;
}

/**
 * As it is lent: an OpenPGP key without the parts that open mail, so that whoever holds it reads nothing. Certificates are
 * asked for as good for signing alone.
 */
export async function signingOnly(signer: Signer): Promise<Signer> {
  if (signer.kind === 'certificate') {
    const { forPrograms: _, ...rest } = signer;
    return rest;
  }
  const { revocation: _, ...rest } = signer;
  const { signOnly } = await import('../openpgp/sign-only');
  return { ...rest, purpose: 'mail', secretKey: toBase64Url(await signOnly(fromBase64Url(rest.secretKey))) };
}
