/** People, own keys and agreed passwords whose name begins as is looked for: few, and open already. */
import { holdsAll, marksIn, wordsAsked } from '@under-lock/core/search/fold';
import { LockShape, type Shape } from '@under-lock/ui/lock-shape';
import { useOpenPgpKeys } from '../keys/openpgp/useOpenPgpKeys';
import { useOwnKeys } from '../keys/useKeys';
import { useNameOf } from '../passwords/useNameOf';
import { usePasswords } from '../passwords/usePasswords';
import { directionWords } from '../passwords/words';
import { usePeople } from '../people/person';
import { Lines } from '../shell/Listed';
import { ListLine } from '../shell/ListLine';
import { ListSection } from '../shell/ListScreen';
import { Marked } from '../find/Marked';

const MOST = 5;
const LEAST_LETTERS = 2;

/** A single letter begins nearly everything. */
export const enoughLetters = (words: readonly string[]): boolean => words.join('').length >= LEAST_LETTERS;

interface Named {
  href: string;
  name: string;
  about: string;
  shape?: Shape;
}

function useNamed(): Named[] {
  const { data: people = [] } = usePeople();
  const { data: keys = [] } = useOwnKeys();
  const { data: openPgp = [] } = useOpenPgpKeys();
  const { data: book = [] } = usePasswords();
  const nameOf = useNameOf();
  return [
    ...people.map(({ id, value: { name, address } }) => ({
      href: `/people/${id}`,
      name: name || address,
      about: address,
    })),
    ...keys.map(({ key: { id }, view }) => ({
      href: `/keys/${id}`,
      name: view?.name ?? 'Asked for, not issued yet',
      about: `Your certificate${view === undefined ? '' : ` for ${view.addresses.join(', ')}`}`,
      shape: 'hexagon' as const,
    })),
    ...openPgp.map(({ id, view }) => ({
      href: `/keys/openpgp/${id}`,
      name: view.name || view.addresses.join(', '),
      about: `Your OpenPGP key for ${view.addresses.join(', ')}`,
      shape: 'diamond' as const,
    })),
    ...book.map(({ id, value: { address, direction } }) => ({
      href: `/keys/passwords/${id}`,
      name: nameOf(address),
      about: `Password, ${directionWords[direction].toLowerCase()}`,
      shape: 'sheet' as const,
    })),
  ];
}

export function FoundNames({ query }: { query: string }) {
  const named = useNamed();
  const words = wordsAsked(query);
  if (!enoughLetters(words)) return null;
  const found = named.filter(({ name, about }) => holdsAll(`${name} ${about}`, words)).slice(0, MOST);
  if (found.length === 0) return null;
  return (
    <ListSection title="People, keys, passwords">
      <Lines items={found}>
        {({ href, name, about, shape }, last) => (
          <ListLine
            key={href}
            href={href}
            label={`${name}, ${about}`}
            title={<Marked text={name} marks={marksIn(name, words)} />}
            about={about}
            {...(shape === undefined ? {} : { shapes: <LockShape shape={shape} state="outline" /> })}
            last={last}
            walked={false}
          />
        )}
      </Lines>
    </ListSection>
  );
}
