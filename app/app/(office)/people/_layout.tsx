import { lazy } from 'react';

const PeoplePlace = lazy(async () => ({ default: (await import('../../../src/people/PeoplePlace')).PeoplePlace }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <PeoplePlace />;
}
