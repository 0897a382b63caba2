/** Comes after the first page, and speaks its language before it is drawn. */
import { type ComponentType, lazy } from 'react';
import type * as List from './index';

const later = <P extends object>(pick: (list: typeof List) => ComponentType<P>) =>
  lazy(async () => {
    const list = await import('./index');
    await list.loadListWords();
    return { default: pick(list) };
  });

/** The words of these pages, in the language spoken now. */
export const listWordsNow = async () => {
  const list = await import('./index');
  await list.loadListWords();
  return list.listWords;
};

export const Entry = later((list) => list.Entry);
export const KeepPanel = later((list) => list.KeepPanel);
export const SignIn = later((list) => list.SignIn);
export const ListPage = later((list) => list.ListPage);
