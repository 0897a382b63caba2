import { lazy } from 'react';

const BookIndex = lazy(async () => ({ default: (await import('../../../../src/passwords/BookList')).BookIndex }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <BookIndex />;
}
