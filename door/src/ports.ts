/** Sending for a program that has the files in memory: core's steps, over the client's endpoints. */
import { deleteBlob } from '@under-lock/contract/blob';
import { type Client } from '@under-lock/contract/client';
import { dispatchMessage, getSent } from '@under-lock/contract/outgoing';
import { isProblem } from '@under-lock/contract/problem';
import { putBlob } from '@under-lock/contract/transfer';
import { type Bytes, flowOf } from '@under-lock/core/bytes';
import { sealCopy } from '@under-lock/core/locks/index';
import { type SealingMeans } from '@under-lock/core/locks/lock';
import { roomLock } from '@under-lock/core/locks/room/index';
import { type MessageContent } from '@under-lock/core/message/content';
import { asItLeaves } from '@under-lock/core/outgoing/as-it-came';
import { fingerprintOf, type MessageToSeal } from '@under-lock/core/outgoing/content';
import { type RecordPort, type SendPorts } from '@under-lock/core/outgoing/ports';
import { contentKeyOf, makeKey, splitFor } from '@under-lock/core/outgoing/split';
import { sealForRelease } from '@under-lock/core/release/paper';
import { randomUUID } from 'node:crypto';

export interface AtHand {
  /** By the number under which the draft names each. */
  files: ReadonlyMap<string, Bytes>;
  /** The mail as it was handed in, where it was. */
  raw?: Bytes;
  means: SealingMeans;
}

const nothing = async (): Promise<void> => undefined;

/** @param keeping What is kept for the sender, and how. */
export function portsOver(
  client: Client,
  { files, raw, means }: AtHand,
  keeping: Pick<RecordPort, 'keepAttempt' | 'sealSummary' | 'sealWords'>,
): SendPorts {
  const whole = (message: MessageToSeal): MessageContent => ({
    ...message,
    files: message.files.map(({ name, type, blobId }) => ({ name, type, bytes: files.get(blobId)! })),
  });
  return {
    newId: randomUUID,
    content: {
      makeKey: async () => makeKey(),
      fingerprint: fingerprintOf,
      split: (of, key, wanted) => splitFor(of, key, wanted, randomUUID),
      put: async (message, blobId, key) =>
        putBlob(client, blobId, await roomLock.seal(whole(message), contentKeyOf(key))),
      forRelease: sealForRelease,
      cancel: nothing,
      allow: nothing,
    },
    copies: {
      put: async (order, message, blobId) =>
        putBlob(client, blobId, flowOf(await sealCopy(order, whole(message), means))),
      ...(raw === undefined
        ? {}
        : { putAsItCame: (message, blobId) => putBlob(client, blobId, flowOf(asItLeaves(raw, message))) }),
      cancel: nothing,
    },
    record: {
      ...keeping,
      wasSent: (messageId) =>
        client(getSent, { params: { id: messageId } }).then(
          () => true,
          (error: unknown) => {
            if (isProblem(error, 'not-found')) return false;
            throw error;
          },
        ),
      discard: async (blobId) => void (await client(deleteBlob, { params: { id: blobId } })),
      dispatch: (messageId, body) => client(dispatchMessage, { params: { id: messageId }, body }),
    },
  };
}
