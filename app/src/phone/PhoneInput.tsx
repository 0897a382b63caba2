import { Text } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';

/** All the world's number plans come with it: only where a number is typed. */
export const PhoneInput = later(
  async () => (await import('./PhoneFields')).PhoneFields,
  ({ label }) => (
    <Text kind="small" tone="soft">
      {label}
    </Text>
  ),
);
