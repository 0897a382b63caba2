/** Comes after the message, and speaks its language before it is drawn. */
import { Loading } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';
import { Frame } from '../Frame';
import { words } from '../words/words';

const speak = async () => (await import('./words')).loadChooseWords();
const load = async () => {
  const [page] = await Promise.all([import('./ChoosePage'), speak()]);
  return page;
};

export const ChooseOffer = later(async () => (await load()).ChooseOffer);
export const ChoosePage = later(
  async () => (await load()).ChoosePage,
  () => <Loading what={words.loading} />,
);
export const TakeBackPage = later(
  async () => (await Promise.all([import('./TakeBackPage'), speak()]))[0].TakeBackPage,
  () => (
    <Frame officeName={undefined}>
      <Loading what={words.loading} />
    </Frame>
  ),
);
