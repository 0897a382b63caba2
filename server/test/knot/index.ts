/**
 * A lock that only tests know: a mail whose content is sealed under a key that both sides have. It stands for any lock
 * that may come, and is made of this folder alone.
 */
import { type Bytes, concat, utf8 } from '@under-lock/core/bytes';
import { copiesOf } from '@under-lock/core/locks/copy';
import { type CopyLock } from '@under-lock/core/locks/lock';
import { base64Lines } from '@under-lock/core/message/base64';
import { headerFields, MIME_VERSION } from '@under-lock/core/message/build';
import { decodedBody, type Entity } from '@under-lock/core/message/entity';
import { protectedPart, wholePart } from '@under-lock/core/message/protected';
import { seal, sealingKey, unseal } from '@under-lock/core/sealing';
import { assessKnot, type KnotMissing } from './assess';

interface KnotOrder {
  lock: 'knot';
  neutralSubject: string;
}

const TYPE = 'application/x-knot';
const key = (): Promise<CryptoKey> => sealingKey(new Uint8Array(32).fill(9));
const isKnot = ({ contentType: { type } }: Entity): boolean => type === TYPE;

export const knotLock: CopyLock<'knot', KnotMissing, never, { code: 'tied-by-hand' }, KnotOrder> = {
  lock: 'knot',
  gives: 'copy',
  oneEach: true,
  assess: assessKnot,
  want: (lines) => lines.flatMap((line) => copiesOf('knot', [line], () => ({ turns: 3 }))),
  order: (_, { neutralSubject }) => ({ lock: 'knot', neutralSubject }),
  async seal({ neutralSubject }, message): Promise<Bytes> {
    const outer = headerFields({ ...message, subject: neutralSubject, reference: '' });
    const sealed = await seal(await key(), wholePart(protectedPart(message, 'cipher', outer)), 'knot');
    const head = `${outer.join('')}${MIME_VERSION}Content-Type: ${TYPE}\r\nContent-Transfer-Encoding: base64\r\n\r\n`;
    return concat(utf8(head), base64Lines(sealed));
  },
  recognise: async (mail) => (isKnot(mail) && decodedBody(mail)[0] === 1 ? { keeps: 'all', weak: false } : undefined),
  unwrapping: async () => ({
    bare: async () => undefined,
    async next(entity) {
      if (!isKnot(entity)) return undefined;
      const inner = await unseal(await key(), decodedBody(entity), 'knot');
      // What a layer vouches for is two standards' business so far; to a reader it is a layer like theirs.
      const layer = {
        kind: 'encrypted',
        by: 'openpgp',
        cipher: 'AES-256-GCM',
        authenticated: true,
        old: false,
      } as const;
      return { layers: [{ ...layer, openedWith: 'knot', recipients: 1 }], inner };
    },
    isPart: isKnot,
    isWithin: () => false,
  }),
};
