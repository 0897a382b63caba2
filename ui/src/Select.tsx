/** One of many, in the browser's own list: it is worked by keyboard, finger and screen reader as everywhere else. */
import { type CSSProperties } from 'react';
import { Text } from './Text';
import { nativeField } from './native-field';

export interface Selectable<T extends string> {
  value: T;
  label: string;
  /** Where the word is of another language than the page. */ lang?: string;
}

export function Select<T extends string>({
  label,
  options,
  value,
  onChange,
  style,
}: {
  label: string;
  options: readonly Selectable<T>[];
  value: T;
  onChange: (value: T) => void;
  /** Of the field with its label. */ style?: CSSProperties;
}) {
  return (
    <label style={{ ...field, ...style }}>
      <Text kind="label" tone="soft">
        {label}
      </Text>
      <select value={value} onChange={(event) => onChange(event.target.value as T)} style={nativeField}>
        {options.map((one) => (
          <option key={one.value} value={one.value} lang={one.lang}>
            {one.label}
          </option>
        ))}
      </select>
    </label>
  );
}

const field: CSSProperties = { display: 'block', minWidth: 0 };
