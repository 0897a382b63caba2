/** Which of the pages for outsiders the address asks for: a message, somebody's own list, or a choice to take back. */
import { takeBackFrom } from '@under-lock/core/choosing/link';
import { useLayoutEffect } from 'react';
import { TakeBackPage } from './choose/later';
import { showInstead } from './early/over';
import { ListPage } from './list/later';
import { RoomPage } from './RoomPage';

const takeBack = takeBackFrom(window.location);
const isList = /^\/room(\/list)?\/?$/.test(window.location.pathname);

export function Pages() {
  useLayoutEffect(() => {
    if (isList || takeBack !== undefined) showInstead();
  }, []);
  if (takeBack !== undefined) return <TakeBackPage link={takeBack} />;
  return isList ? <ListPage /> : <RoomPage />;
}
