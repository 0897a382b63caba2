import { lazy } from 'react';

const OfficeIndex = lazy(async () => ({ default: (await import('../../../src/office/OfficePlace')).OfficeIndex }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <OfficeIndex />;
}
