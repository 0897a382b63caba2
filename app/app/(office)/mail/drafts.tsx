import { lazy } from 'react';

const DraftIndex = lazy(async () => ({ default: (await import('../../../src/mail/MailPlace')).DraftIndex }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <DraftIndex />;
}
