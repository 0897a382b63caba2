import { useState } from 'react';

const isSame = <T extends object>(one: T, other: T): boolean => {
  const names = Object.keys({ ...one, ...other }) as (keyof T)[];
  return names.every((name) => Object.is(one[name], other[name]));
};

/** The object of an earlier drawing for as long as each of its values is the same. */
export function useSame<T extends object>(value: T): T {
  const [held, setHeld] = useState(value);
  if (isSame(held, value)) return held;
  setHeld(value);
  return value;
}
