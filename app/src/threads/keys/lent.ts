/** Own keys that the door for mail programs signs with: they leave this thread sealed to it, as good for signing alone. */
import { type PublicKey } from '@under-lock/core/account/key-pair';
import { type Bytes, fromBase64Url, sha256, toHex } from '@under-lock/core/bytes';
import { sealSigner, type Signer, type SignerKind, signingOnly } from '@under-lock/core/submission/signer';
import { keptKey } from '../opened/vault';

async function kept(kind: SignerKind, id: string): Promise<{ signer: Signer; fingerprint: string }> {
  if (kind === 'certificate') {
    const { value } = await keptKey(id);
    return { signer: value, fingerprint: toHex(await sha256(fromBase64Url(value.certificate!))) };
  }
  const { keptSecret, publicSide } = await import('./openpgp/kept');
  const item = await keptSecret(id);
  return { signer: item.value, fingerprint: (await publicSide(item)).view.fingerprint };
}

export const lent = {
  /** @throws KeyGoneError */
  async seal(
    kind: SignerKind,
    id: string,
    door: PublicKey,
    accountId: string,
  ): Promise<{ sealed: Bytes; fingerprint: string }> {
    const { signer, fingerprint } = await kept(kind, id);
    return { sealed: await sealSigner(door, accountId, await signingOnly(signer)), fingerprint };
  },
};
