import { Button } from '@under-lock/ui';
import { router } from 'expo-router';
import { type ReactNode, useState } from 'react';
import { isAsking } from '../find/asked';
import { FindField } from '../find/FindField';
import { FilterButton, Filters } from '../find/Filters';
import { FoundList } from '../found/FoundList';
import { useAsked } from '../find/useAsked';
import { ListRow, ListScreen } from '../shell/ListScreen';
import { type Shelf, Shelves } from './Shelves';

/** The frame of Mail's lists: what is looked for takes the place of the shelf. */
export function MailList({ here, children }: { here: Shelf; children: ReactNode }) {
  const { asked } = useAsked();
  const [all, setAll] = useState(false);
  const filterButton = <FilterButton open={all} onPress={() => setAll(!all)} />;
  return (
    <ListScreen title="Mail" aside={<Button label="Write" onPress={() => router.push('/write')} />}>
      <ListRow>
        <FindField />
      </ListRow>
      {isAsking(asked) ? (
        <FoundList allFilters={all} filterButton={filterButton} />
      ) : (
        <>
          {all ? (
            <ListRow>
              <Filters all />
            </ListRow>
          ) : null}
          <Shelves here={here} aside={filterButton} />
          {children}
        </>
      )}
    </ListScreen>
  );
}
