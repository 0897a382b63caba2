import { lazy } from 'react';

const OfficePlace = lazy(async () => ({ default: (await import('../../../src/office/OfficePlace')).OfficePlace }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <OfficePlace />;
}
