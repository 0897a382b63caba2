/**
 * A message sealed as an OpenPGP copy: signed with the worker's key where there is one, encrypted to everybody's key
 * and to the worker's own, uploaded as it will leave.
 */
import { addressKey } from '@under-lock/core/people/address';
import { type OpenPgpMailForm, sealForOpenPgp } from '@under-lock/core/locks/openpgp/seal';
import { factsOf, type KeyUse, type OpenPgpKey, partFor, readOpenPgpKey, userAt } from '@under-lock/core/openpgp/key';
import { type PrivateKey } from '@under-lock/core/openpgp/library';
import { type MessageToSeal } from '@under-lock/core/outgoing/content';
import { contentOf } from '../../message';
import { upload } from '../../transfer';
import { type KeptSecret, keptSecrets, secretOf } from './kept';

interface Usable {
  item: KeptSecret;
  secret: PrivateKey;
  key: OpenPgpKey;
}

/** Own keys that can be used now for an address: the chosen one first, then the newest. */
async function usable(address: string, use: KeyUse, now: Date): Promise<Usable[]> {
  const kept = (await keptSecrets()).filter(({ value }) => value.retiredAt === undefined && value.purpose === 'mail');
  const found = await Promise.all(
    kept.map(async (item): Promise<Usable[]> => {
      const secret = await secretOf(item.value);
      const key = await factsOf(secret.toPublic());
      return key.revocation === undefined && partFor(key, use, now) !== undefined && userAt(key, address) !== undefined
        ? [{ item, secret, key }]
        : [];
    }),
  );
  const chosen = ({ item }: Usable): number => Number(item.value.chosenFor.includes(addressKey(address)));
  return found.flat().sort((a, b) => chosen(b) - chosen(a) || b.item.value.madeAt.localeCompare(a.item.value.madeAt));
}

export const sealing = {
  /** Whether copies from this address will be signed. */
  signs: async (address: string, now: Date): Promise<boolean> => (await usable(address, 'sign', now)).length > 0,
  /**
   * Seals and uploads. `clear` is for what is no secret: signed, not encrypted. @throws ApiProblem, OpenPgpError,
   * RangeError when it would go neither signed nor encrypted
   */
  async sealAndUpload(
    message: MessageToSeal,
    recipients: readonly Uint8Array[] | 'clear',
    form: OpenPgpMailForm,
    neutralSubject: string,
    blobId: string,
    progress: (done: number) => void,
  ): Promise<void> {
    const { address } = message.from;
    const signedAt = new Date();
    const [signing, own] = [await usable(address, 'sign', signedAt), await usable(address, 'encrypt', signedAt)];
    const [signer] = signing;
    const theirs = recipients === 'clear' ? [] : await Promise.all(recipients.map(readOpenPgpKey));
    const carried = signer?.item.value.carried ?? 'nothing';
    const sealed = await sealForOpenPgp({
      message: await contentOf(message),
      signer: signer?.secret,
      recipients: theirs,
      own: own[0]?.key,
      form,
      signedAt,
      neutralSubject,
      ...(signer === undefined || carried === 'nothing'
        ? {}
        : {
            carried: {
              key: signer.key,
              field: carried !== 'file',
              file: carried !== 'field' && recipients !== 'clear',
            },
          }),
    });
    await upload(blobId, sealed, progress);
  },
};
