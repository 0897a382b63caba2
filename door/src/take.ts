/** Lays a mail down at the server before it is answered, and hands it on to be dealt with. */
import { handIn } from '@under-lock/contract/submission';
import { deleteBlob } from '@under-lock/contract/blob';
import { putBlob } from '@under-lock/contract/transfer';
import { type Bytes } from '@under-lock/core/bytes';
import { type Entity, EntityError, readEntity } from '@under-lock/core/message/entity';
import { hopsOf, MOST_HOPS } from '@under-lock/core/message/hops';
import { authorOf, type NotTaken } from '@under-lock/core/submission/draft';
import { sealHanded } from '@under-lock/core/submission/handed';
import { createHash, randomUUID } from 'node:crypto';
import { type Lying } from './dealing';
import { type Door, type Owner } from './house';
import { type Taken } from './smtp';

const answers: Record<NotTaken, string> = {
  'not-a-mail': '5.6.0 This can’t be read as a mail',
  'no-from': '5.6.0 The mail does not say whom it is from, or names several',
  'not-your-address': '5.7.1 The address it is from is not yours',
};

const GOES_ROUND = '5.4.6 This mail goes round in circles: a relay hands it back to where it came from';

const refusal = (why: NotTaken): Error => Object.assign(new Error(answers[why]), { responseCode: 550 });

/** @throws Error with what its program is to be told */
function entityOf(raw: Uint8Array): Entity {
  try {
    return readEntity(raw);
  } catch (error) {
    throw error instanceof EntityError ? refusal('not-a-mail') : error;
  }
}

/**
 * The same mail to the same people, whichever number it gets here. What a relay on its way put down of itself does not
 * make it another one: one that was killed may take the same mail up twice.
 */
function digestOf({ fields, body }: Entity, to: readonly string[]): Bytes {
  const hash = createHash('sha256').update(`${JSON.stringify([...to].sort())}\n`);
  for (const { name, raw } of fields) if (name !== 'received') hash.update(raw);
  return new Uint8Array(hash.update('\r\n').update(body).digest());
}

/**
 * Undefined for one that lies there already. @throws ApiProblem, Error with what its program is to be told
 */
export async function layDown({ keys }: Door, owner: Owner, { raw, to }: Taken): Promise<Lying | undefined> {
  const entity = entityOf(raw);
  const author = authorOf(entity, owner.account);
  if ('refused' in author) throw refusal(author.refused);
  if (hopsOf(raw) > MOST_HOPS) throw Object.assign(new Error(GOES_ROUND), { responseCode: 554 });
  const id = randomUUID();
  const blobId = randomUUID();
  const { content, labels } = await sealHanded(raw, to, { id, account: owner.key, door: keys });
  await putBlob(owner.client, blobId, content);
  const { already } = await owner.client(handIn, {
    params: { id },
    body: { blobId, sha256: digestOf(entity, to), size: raw.length, ...labels },
  });
  // The same octets lie here under another number: these are nobody's.
  if (already) await owner.client(deleteBlob, { params: { id: blobId } }).catch(() => undefined);
  return already ? undefined : { id, deviceId: owner.deviceId, blobId, label: labels.door };
}
