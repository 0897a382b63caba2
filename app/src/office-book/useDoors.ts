/** What the office book wants of whoever is in it: a colleague to be let in, a new key because somebody left. */
import { listed } from '../handling/words';
import { useColleagues } from '../session/useOffice';
import { isIn, useBookStand } from './useBook';
import { waitingFor } from './waiting';

export interface Wanted {
  title: string;
  about: string;
  detail: string;
  href: string;
}

const NAMED = 3;

/** Nothing for who is not in. */
export function useDoors(): Wanted | undefined {
  const { data: stand } = useBookStand();
  const { data: colleagues } = useColleagues();
  if (stand === undefined || colleagues === undefined || !isIn(stand)) return undefined;
  if (stand.renew)
    return {
      title: 'The office book wants a new key',
      about: 'Somebody left who had the one of now',
      detail: 'With a new key, what is written from now on stays closed to them. It is one press.',
      href: '/people/office',
    };
  const waiting = waitingFor(stand, colleagues);
  if (waiting.length === 0) return undefined;
  const names = waiting.slice(0, NAMED).map(({ name }) => name);
  return {
    title:
      waiting.length === 1
        ? `${names[0]!} is not in the office book yet`
        : `${waiting.length} colleagues are not in the office book yet`,
    about: waiting.length > NAMED ? `${listed(names, 'and')} and others` : listed(names, 'and'),
    detail: 'Any of you who is in can let them in.',
    href: '/people/office/members',
  };
}
