import { lazy } from 'react';

const KeysIndex = lazy(async () => ({ default: (await import('../../../src/keys/KeysPlace')).KeysIndex }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <KeysIndex />;
}
