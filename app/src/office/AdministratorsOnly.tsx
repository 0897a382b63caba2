import { Text } from '@under-lock/ui';
import { type ReactNode } from 'react';
import { useOpenSession } from '../session/session';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';

export const toOffice = <BackToList href="/office" label="Office" />;

/** What the office's administrators say, and only they; everybody else gets one sentence about it. */
export function AdministratorsOnly({
  title,
  sentence,
  children,
}: {
  title: string;
  sentence: string;
  children: ReactNode;
}) {
  const { account } = useOpenSession();
  return account.role === 'administrator' ? (
    children
  ) : (
    <Screen title={title} back={<WayLink href="/office" label="Office" />}>
      <Text>{sentence}</Text>
    </Screen>
  );
}
