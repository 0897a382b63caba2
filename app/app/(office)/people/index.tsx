import { lazy } from 'react';

const PeopleIndex = lazy(async () => ({ default: (await import('../../../src/people/PeoplePlace')).PeopleIndex }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <PeopleIndex />;
}
