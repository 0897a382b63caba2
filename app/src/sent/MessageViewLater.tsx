import { type MessageViewProps } from '@under-lock/reader/MessageView';
import { Loading } from '@under-lock/ui';
import { lazy, Suspense } from 'react';

const MessageView = lazy(async () => ({ default: (await import('@under-lock/reader/Seen')).MessageView }));

/** The reading room's own page of a message, fetched when it is looked at. */
export const MessageViewLater = (props: MessageViewProps) => (
  <Suspense fallback={<Loading what="Opening the page" />}>
    <MessageView {...props} />
  </Suspense>
);
