/** Which of the pages for outsiders the address asks for: a message, or somebody's own list. */
import { Loading } from '@under-lock/ui';
import { Suspense, useLayoutEffect } from 'react';
import { showInstead } from './early/over';
import { Frame } from './Frame';
import { ListPage } from './list/later';
import { RoomPage } from './RoomPage';
import { words } from './words/words';

const isList = /^\/room(\/list)?\/?$/.test(window.location.pathname);

export function Pages() {
  useLayoutEffect(() => {
    if (isList) showInstead();
  }, []);
  if (!isList) return <RoomPage />;
  return (
    <Suspense
      fallback={
        <Frame officeName={undefined}>
          <Loading what={words.loading} />
        </Frame>
      }
    >
      <ListPage />
    </Suspense>
  );
}
