import { Field } from '@under-lock/ui';
import { type ComponentProps, useEffect, useRef, useState } from 'react';

/**
 * A field whose value comes back by way of the plan, which is made behind the typing: what is typed is shown as it is
 * typed, and what the plan says once the hand has left.
 */
export function TypedField({ value = '', onChangeText, onFocus, onBlur, ...field }: ComponentProps<typeof Field>) {
  const [typed, setTyped] = useState<string | undefined>();
  const isHere = useRef(false);
  useEffect(() => {
    if (!isHere.current) setTyped(undefined);
  }, [value]);
  return (
    <Field
      {...field}
      value={typed ?? value}
      onChangeText={(next) => {
        setTyped(next);
        onChangeText?.(next);
      }}
      onFocus={(event) => {
        isHere.current = true;
        onFocus?.(event);
      }}
      onBlur={(event) => {
        isHere.current = false;
        // Else the plan is still on its way.
        if (typed === value) setTyped(undefined);
        onBlur?.(event);
      }}
    />
  );
}
