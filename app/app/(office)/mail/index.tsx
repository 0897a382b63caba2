import { lazy } from 'react';

const SentIndex = lazy(async () => ({ default: (await import('../../../src/mail/MailPlace')).SentIndex }));

/** A component of its own: the router asks a route for more than a lazy one has. */
export default function Route() {
  return <SentIndex />;
}
