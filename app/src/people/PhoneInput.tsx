import { lazy, Suspense } from 'react';
import { Text } from '@under-lock/ui';
import { type PhoneInputProps } from './PhoneFields';

/** A phone number as typed, and what it is: `e164` when it is one, otherwise the `problem` in words. */
export interface PhoneValue {
  country: string;
  typed: string;
  e164?: string;
  problem?: string;
}

export const noPhone: PhoneValue = { country: 'GB', typed: '', problem: 'Type the number.' };
export const phoneOf = (e164: string | undefined): PhoneValue => (e164 === undefined ? noPhone : { country: 'GB', typed: e164, e164 });

// All the world's number plans come with it: only where a number is typed.
const PhoneFields = lazy(async () => ({ default: (await import('./PhoneFields')).PhoneFields }));

export function PhoneInput(props: PhoneInputProps) {
  return (
    <Suspense fallback={<Text kind="small" tone="soft">{props.label}</Text>}>
      <PhoneFields {...props} />
    </Suspense>
  );
}
