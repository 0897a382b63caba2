/** Which of the pages for outsiders the address asks for: a message, or somebody's own list. */
import { useLayoutEffect } from 'react';
import { showInstead } from './early/over';
import { ListPage } from './list/later';
import { RoomPage } from './RoomPage';

const isList = /^\/room(\/list)?\/?$/.test(window.location.pathname);

export function Pages() {
  useLayoutEffect(() => {
    if (isList) showInstead();
  }, []);
  return isList ? <ListPage /> : <RoomPage />;
}
