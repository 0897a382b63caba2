import { Loading } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';

/** What shows mail, fetched when there is some to show. */
export const MailViewLater = later(
  async () => (await import('./MailView')).MailView,
  () => <Loading what="Opening the mail" />,
);
