/** Mail from a mail program that waits for its writer: opened, and made a draft of, where the secrets are. */
import { createClient } from '@under-lock/contract/client';
import { findAnswered } from '@under-lock/contract/outgoing';
import { type Handed } from '@under-lock/contract/submission';
import { answersNamed } from '@under-lock/core/outgoing/dispatch';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { contentKeyOf, makeKey } from '@under-lock/core/outgoing/split';
import { sealInPieces } from '@under-lock/core/locks/room/content';
import { type WithAddresses } from '@under-lock/core/people/own-addresses';
import { openHanded, openHandedLabel } from '@under-lock/core/submission/handed';
import { openForOwner } from '@under-lock/core/submission/owner';
import { type Why, whySchema } from '@under-lock/core/submission/why';
import { download, upload } from '../transfer';
import { privateKey } from './received';

const client = createClient(self.location.origin);

export const handed = {
  /** What a list shows of each; undefined where nobody has said why it waits, and for what does not open. */
  async whys(mails: Pick<Handed, 'id' | 'why'>[]): Promise<(Why | undefined)[]> {
    if (mails.every(({ why }) => why === undefined)) return mails.map(() => undefined);
    const key = await privateKey();
    return Promise.all(
      mails.map(async ({ id, why }) => {
        const value = why && (await openForOwner(key, 'waits', id, why).catch(() => undefined));
        const parsed = whySchema.safeParse(value);
        return parsed.success ? parsed.data : undefined;
      }),
    );
  },
  /**
   * A draft of it, its files kept where drafts have theirs. @throws ApiProblem, SealError, ContentError,
   * MessageReadError
   */
  async draftOf(
    { id, label, blobId }: Pick<Handed, 'id' | 'label' | 'blobId'>,
    account: WithAddresses,
  ): Promise<Draft> {
    const opened = await openHandedLabel(await privateKey(), 'account', id, label);
    const raw = await openHanded(await download(blobId), opened);
    // Fetched when a mail from a mail program is taken up: it reads what strangers format.
    const { asAnswer, draftOfMail } = await import('@under-lock/core/submission/draft');
    const { draft } = await draftOfMail(raw, { envelope: opened.to, account }, async ({ name, type, bytes }) => {
      const file = { blobId: crypto.randomUUID(), name, type, size: bytes.length, key: makeKey() };
      await upload(file.blobId, await sealInPieces([bytes], contentKeyOf(file.key)), () => undefined);
      return file;
    });
    const answers = answersNamed(draft);
    return answers.length === 0 ? draft : asAnswer(draft, (await client(findAnswered, { body: { answers } })).answered);
  },
};
