import { type ReactNode } from 'react';
import { Heading, Text } from './Text';
import { Stack } from './Surface';

/** How something ended, as a page of its own: a form and a title, what it means, what can be done. */
export function Outcome({
  title,
  form,
  children,
  actions,
}: {
  title: string;
  form: string;
  children?: ReactNode;
  actions?: ReactNode;
}) {
  return (
    <Stack>
      <Heading level={1}>{`${form} ${title}`}</Heading>
      {children === undefined ? null : <Text>{children}</Text>}
      {actions}
    </Stack>
  );
}
