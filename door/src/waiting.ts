/** A mail that stays with its writer, who is told why. */
import { letWait } from '@under-lock/contract/submission';
import { sealForOwner } from '@under-lock/core/submission/owner';
import { MOST_SENTENCE, MOST_SENTENCES, type Why } from '@under-lock/core/submission/why';
import { type Owner } from './house';

/** @throws ApiProblem */
export async function letItWait(
  { key, client }: Owner,
  { id, subject }: { id: string; subject: string },
  sentences: readonly string[],
): Promise<void> {
  const why: Why = {
    subject,
    sentences: sentences.slice(0, MOST_SENTENCES).map((one) => one.slice(0, MOST_SENTENCE)),
  };
  const sentence = sentences.join('; ').slice(0, MOST_SENTENCE);
  await client(letWait, {
    params: { id },
    body: { why: await sealForOwner(key, 'waits', id, why), sentence: sentence.replace(/\p{Cc}/gu, ' ') },
  });
}
