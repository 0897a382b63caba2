/** The message's key, and the access of each who reads here: made where keys may be, and kept with the attempt. */
import { sealSummary, sealTo, shareContext } from '../account/key-pair';
import { type Bytes, fromBase64Url, randomBytes, toBase64Url } from '../bytes';
import { answerProof, sealQuestion } from '../identity/answer';
import { type ContentKey } from '../locks/room/content';
import { splitKey } from '../locks/room/grant';
import { type KeptGrant, type KeptKey } from './draft';
import { type Asked, type WantedGrant, type WantedReader } from '../locks/wanted';

export const makeKey = (): KeptKey => ({ key: toBase64Url(randomBytes(32)), salt: toBase64Url(randomBytes(32)) });

export const contentKeyOf = ({ key, salt }: KeptKey): ContentKey => ({
  key: fromBase64Url(key),
  salt: fromBase64Url(salt),
});

export async function sealedQuestion(
  { text, answer }: Asked,
  readerShare: Bytes,
  grantId: string,
): Promise<{ sealed: string; answerProof: string }> {
  return {
    sealed: toBase64Url(await sealQuestion(text, readerShare, grantId)),
    answerProof: toBase64Url(await answerProof(answer, readerShare)),
  };
}

async function keptReader(
  reader: WantedReader,
  readerShare: Bytes,
  grantId: string,
  subject: string,
): Promise<KeptGrant['reader']> {
  if (reader.kind !== 'link') {
    const key = { suite: reader.suite, publicKey: reader.publicKey as Bytes };
    const sealed = {
      sealedShare: toBase64Url(await sealTo(key, readerShare, shareContext(grantId))),
      sealedSummary: toBase64Url(await sealSummary({ subject }, readerShare, grantId)),
    };
    if (reader.kind === 'account') return { kind: 'account', accountId: reader.accountId, ...sealed };
    const { readerId, language } = reader;
    return { kind: 'registered', readerId, ...(language === undefined ? {} : { language }), ...sealed };
  }
  const { language, check, target, question } = reader;
  return {
    kind: 'link',
    ...(language === undefined ? {} : { language }),
    check,
    ...(target === undefined ? {} : { target }),
    ...(question === undefined ? {} : { question: await sealedQuestion(question, readerShare, grantId) }),
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
      const id = newId();
      const { readerShare, house } = await splitKey(fromBase64Url(key.key), { grantId: id, messageId });
      return {
        id,
        address,
        name,
        role,
        ...(carried === undefined ? {} : { carried }),
        readerShare: toBase64Url(readerShare),
        houseShare: toBase64Url(house.houseShare),
        wrappedKey: toBase64Url(house.wrappedKey),
        reader: await keptReader(reader, readerShare, id, subject),
      };
    }),
  );
}
