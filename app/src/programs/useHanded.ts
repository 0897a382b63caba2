/** Mail from one's mail programs that waits: listed among the drafts, and made one when it is opened. */
import { type Account } from '@under-lock/contract/account';
import { dropHanded, type Handed, listHanded } from '@under-lock/contract/submission';
import { isProblem } from '@under-lock/contract/problem';
import { draftSchema } from '@under-lock/core/outgoing/draft';
import { type Why } from '@under-lock/core/submission/why';
import useSWR, { mutate } from 'swr';
import { api } from '../api';
import { told } from '../live/live';
import { door } from '../threads/main/door';
import { keepItem, readItem } from '../vault/useVault';

const KEY = 'handed-in';

/** Undefined where the door has not said why it waits. */
export interface HandedWithWhy extends Handed {
  opened: Why | undefined;
}

async function fetchHanded(): Promise<HandedWithWhy[]> {
  const { mails } = await api(listHanded);
  const whys = await door().handed.whys(mails);
  return mails.map((mail, index) => ({ ...mail, opened: whys[index] }));
}

export const useHanded = () => useSWR(KEY, fetchHanded, { use: [told('vault/draft')] });

async function dropQuietly(id: string): Promise<void> {
  await api(dropHanded, { params: { id } }).catch((error: unknown) => {
    if (!isProblem(error, 'not-found')) throw error;
  });
  await mutate(KEY);
}

/**
 * A draft under the same number, and the mail is gone: false when there is neither. What was begun and cut off is gone
 * on with. @throws ApiProblem, SealError, ContentError, MessageReadError
 */
export async function makeDraftOf(id: string, account: Account): Promise<boolean> {
  const mail = (await api(listHanded)).mails.find((one) => one.id === id);
  const kept = await readItem('draft', id, draftSchema);
  if (mail === undefined) return kept !== undefined;
  if (kept === undefined) {
    const [draft, { cleanHtml }] = await Promise.all([
      door().handed.draftOf(mail, account),
      import('@under-lock/ui/clean-html'),
    ]);
    await keepItem('draft', id, 0, { ...draft, html: cleanHtml(draft.html) });
  }
  await dropQuietly(id);
  return true;
}
