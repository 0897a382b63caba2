/** Comes after the message, and speaks its language before it is drawn. */
import { Loading } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';
import { words } from '../words/words';

const load = async () => {
  const [page, { loadChooseWords }] = await Promise.all([import('./ChoosePage'), import('./words')]);
  await loadChooseWords();
  return page;
};

export const ChooseOffer = later(async () => (await load()).ChooseOffer);
export const ChoosePage = later(
  async () => (await load()).ChoosePage,
  () => <Loading what={words.loading} />,
);
