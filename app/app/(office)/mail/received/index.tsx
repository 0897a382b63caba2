import { lazy } from 'react';

const ReceivedIndex = lazy(async () => ({ default: (await import('../../../../src/mail/MailPlace')).ReceivedIndex }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <ReceivedIndex />;
}
