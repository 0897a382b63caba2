/** Comes after the first page, and speaks its language before it is drawn. */
import { Loading } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';
import { type ComponentType, type ReactNode } from 'react';
import { Frame } from '../Frame';
import { words } from '../words/words';
import type * as List from './index';

async function spoken(): Promise<typeof List> {
  const list = await import('./index');
  await list.loadListWords();
  return list;
}

const waiting = (): ReactNode => <Loading what={words.loading} />;
const ofList = <P extends object>(pick: (list: typeof List) => ComponentType<P>, meanwhile = waiting) =>
  later(async () => pick(await spoken()), meanwhile);

/** The words of these pages, in the language spoken now. */
export const listWordsNow = async () => (await spoken()).listWords;

export const Entry = ofList((list) => list.Entry);
export const KeepPanel = ofList((list) => list.KeepPanel);
export const SignIn = ofList((list) => list.SignIn);
export const ListPage = ofList(
  (list) => list.ListPage,
  () => <Frame officeName={undefined}>{waiting()}</Frame>,
);
