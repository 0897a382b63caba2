/** A choice on its way from a reader's browser into the office book: bound to the book's epoch and to its own number. */
import { openFrom, type PublicKey, sealTo } from '../account/key-pair';
import { type Bytes, fromUtf8, utf8 } from '../bytes';
import { SealError } from '../sealing';
import { type Choice, choiceSchema } from './choice';

const context = (epoch: number, id: string): string => `under-lock/choice/v1/${epoch}/${id}`;

/** @param office The book's public key of that epoch. @throws SealError when it is of no known suite */
export const sealChoice = (office: PublicKey, epoch: number, id: string, choice: Choice): Promise<Bytes> =>
  sealTo(office, utf8(JSON.stringify(choice)), context(epoch, id));

/** @param secret The book's of that epoch. @throws SealError also when what was sealed is no choice */
export async function openChoice(secret: Bytes, epoch: number, id: string, sealed: Uint8Array): Promise<Choice> {
  const plain = fromUtf8(await openFrom(secret, sealed, context(epoch, id)));
  try {
    return choiceSchema.parse(JSON.parse(plain));
  } catch {
    throw new SealError('malformed');
  }
}
