import { Loading } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';

/** The reading room's own page of a message, fetched when it is looked at. */
export const MessageViewLater = later(
  async () => (await import('@under-lock/reader/Seen')).MessageView,
  () => <Loading what="Opening the page" />,
);
