import { lazy, Suspense } from 'react';
import { Text } from '@under-lock/ui';
import { type PhoneInputProps } from './phone-value';

// All the world's number plans come with it: only where a number is typed.
const PhoneFields = lazy(async () => ({ default: (await import('./PhoneFields')).PhoneFields }));

export function PhoneInput(props: PhoneInputProps) {
  return (
    <Suspense
      fallback={
        <Text kind="small" tone="soft">
          {props.label}
        </Text>
      }
    >
      <PhoneFields {...props} />
    </Suspense>
  );
}
