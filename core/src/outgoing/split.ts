/** The message's key, and the access of each who reads here: made where keys may be, and kept with the attempt. */
import { defined } from '../defined';
import { type Bytes, fromBase64Url, randomBytes, toBase64Url } from '../bytes';
import { toldProof } from '../identity/told';
import { type ContentKey } from '../locks/room/content';
import { type WantedGrant, type WantedReader } from '../locks/wanted';
import { accessTo, askedOf, sealedToAccount } from './access';
import { type KeptGrant, type KeptKey } from './draft';

export const makeKey = (): KeptKey => ({ key: toBase64Url(randomBytes(32)), salt: toBase64Url(randomBytes(32)) });

export const contentKeyOf = ({ key, salt }: KeptKey): ContentKey => ({
  key: fromBase64Url(key),
  salt: fromBase64Url(salt),
});

async function keptReader(
  reader: WantedReader,
  readerShare: Bytes,
  about: { grantId: string; subject: string },
): Promise<KeptGrant['reader']> {
  if (reader.kind !== 'link') {
    const { suite, publicKey } = reader;
    const { sealedShare, sealedSummary } = await sealedToAccount(
      { suite, publicKey: publicKey as Bytes },
      readerShare,
      about,
    );
    const sealed = { sealedShare: toBase64Url(sealedShare), sealedSummary: toBase64Url(sealedSummary) };
    if (reader.kind === 'account') return { kind: 'account', accountId: reader.accountId, ...sealed };
    const { readerId, language } = reader;
    return { kind: 'registered', readerId, ...defined({ language }), ...sealed };
  }
  const { language, check, target, question, told } = reader;
  const asked = question === undefined ? undefined : await askedOf(question, readerShare, about.grantId);
  return {
    kind: 'link',
    ...defined({ language }),
    check,
    ...defined({ target }),
    ...(told === undefined ? {} : { told: { password: told, proof: toBase64Url(await toldProof(told, readerShare)) } }),
    ...(asked === undefined
      ? {}
      : { question: { sealed: toBase64Url(asked.sealed), answerProof: toBase64Url(asked.answerProof) } }),
  };
}

/** One access a recipient for a message's key. The subject is for colleagues' lists, sealed to them. */
export function splitFor(
  { messageId, subject }: { messageId: string; subject: string },
  key: KeptKey,
  wanted: readonly WantedGrant[],
  newId: () => string,
): Promise<KeptGrant[]> {
  return Promise.all(
    wanted.map(async ({ address, name, role, carried, reader }) => {
      const { id, readerShare, halves } = await accessTo(fromBase64Url(key.key), messageId, newId());
      return {
        id,
        address,
        name,
        role,
        ...defined({ carried }),
        readerShare: toBase64Url(readerShare),
        houseShare: toBase64Url(halves.houseShare),
        wrappedKey: toBase64Url(halves.wrappedKey),
        reader: await keptReader(reader, readerShare, { grantId: id, subject }),
      };
    }),
  );
}
