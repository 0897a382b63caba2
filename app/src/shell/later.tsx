import { type ComponentType, lazy } from 'react';

/** A route whose page comes when it is gone to. A component of its own: the router asks more than a lazy one has. */
export function later(load: () => Promise<ComponentType>): ComponentType {
  const Page = lazy(async () => ({ default: await load() }));
  return function Route() {
    return <Page />;
  };
}
