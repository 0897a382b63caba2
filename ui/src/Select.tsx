/** One of many, in the browser's own list: it is worked by keyboard, finger and screen reader as everywhere else. */
import { type CSSProperties, useState } from 'react';
import { Text } from './Text';
import { nativeField } from './native-field';
import { border, colour, space } from './tokens';

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
  shown,
  style,
}: {
  label: string;
  options: readonly Selectable<T>[];
  value: T;
  onChange: (value: T) => void;
  /** In place of the chosen one's words, where there is no room for them. */ shown?: string;
  /** Of the field with its label. */ style?: CSSProperties;
}) {
  const [focused, setFocused] = useState(false);
  return (
    <label style={{ ...field, ...style }}>
      <span style={labelRow}>
        <Text kind="label" tone="soft">
          {label}
        </Text>
      </span>
      <span style={focused && shown !== undefined ? focusedPlace : place}>
        {shown === undefined ? null : (
          <span aria-hidden style={shownField}>
            {shown}
            <span style={arrow} />
          </span>
        )}
        <select
          value={value}
          onChange={(event) => onChange(event.target.value as T)}
          onFocus={() => setFocused(true)}
          onBlur={() => setFocused(false)}
          style={shown === undefined ? nativeField : overShown}
        >
          {options.map((one) => (
            <option key={one.value} value={one.value} lang={one.lang}>
              {one.label}
            </option>
          ))}
        </select>
      </span>
    </label>
  );
}

const field: CSSProperties = { display: 'block', minWidth: 0 };
// As high as the line over a line of text, so that fields beside each other stand at one height.
const labelRow: CSSProperties = { display: 'flex', alignItems: 'center', minHeight: space.xl, marginBottom: space.xs };
const place: CSSProperties = { display: 'block', position: 'relative', borderRadius: nativeField.borderRadius };
const focusedPlace: CSSProperties = { ...place, outline: `${border.strong}px solid ${colour.sea}`, outlineOffset: 2 };
const shownField: CSSProperties = {
  ...nativeField,
  display: 'flex',
  alignItems: 'center',
  justifyContent: 'space-between',
  whiteSpace: 'nowrap',
};
const overShown: CSSProperties = { ...nativeField, position: 'absolute', inset: 0, opacity: 0 };
const arrow: CSSProperties = {
  width: 7,
  height: 7,
  marginTop: -4,
  borderRight: `${border.strong}px solid ${colour.soft}`,
  borderBottom: `${border.strong}px solid ${colour.soft}`,
  transform: 'rotate(45deg)',
};
