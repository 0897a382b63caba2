import { Loading } from '@under-lock/ui';
import { type ComponentProps, lazy, Suspense } from 'react';
import { type MailView as View } from './MailView';

const MailView = lazy(async () => ({ default: (await import('./MailView')).MailView }));

/** What shows mail, fetched when there is some to show. */
export const MailViewLater = (props: ComponentProps<typeof View>) => (
  <Suspense fallback={<Loading what="Opening the mail" />}>
    <MailView {...props} />
  </Suspense>
);
