import { lazy } from 'react';

const KeysPlace = lazy(async () => ({ default: (await import('../../../src/keys/KeysPlace')).KeysPlace }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <KeysPlace />;
}
