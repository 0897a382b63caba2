import { useId, useState, type ReactNode } from 'react';
import { StyleSheet, TextInput, View, type TextInputProps } from 'react-native';
import { Text } from './Text';
import { TextButton } from './Button';
import { useEnter } from './OnEnter';
import { nativeField } from './native-field';
import { border, colour, font, radius, space, type } from './tokens';

interface Props extends Omit<TextInputProps, 'style' | 'onChange'> {
  label: string;
  /** For screen readers, when the label alone would be ambiguous; must begin with the label. */
  describe?: string;
  hint?: string;
  error?: string | undefined;
  /** Typed in the fixed-width face: codes, numbers. */
  code?: boolean;
  /** What stands behind the label, such as a count. */
  aside?: ReactNode;
  /** A day or a time, typed and picked as the browser has it: yyyy-MM-dd or HH:mm, empty while it is none. */
  inputType?: 'date' | 'time';
  min?: string;
  max?: string;
}

/** A labelled line of text. The error is tied to the input, so that a screen reader says it with the field. */
export function Field({
  label,
  describe,
  hint,
  error,
  code = false,
  aside,
  multiline = false,
  inputType,
  min,
  max,
  ...input
}: Props) {
  const id = useId();
  const enter = useEnter();
  const [focused, setFocused] = useState(false);
  const described = [hint === undefined ? '' : `${id}-hint`, error === undefined ? '' : `${id}-error`]
    .filter(Boolean)
    .join(' ');
  const web = {
    'aria-describedby': described === '' ? undefined : described,
    'aria-invalid': error !== undefined,
  };
  return (
    <View style={styles.field}>
      <View style={styles.row}>
        <Text kind="label" tone="soft" nativeID={`${id}-label`}>
          {label}
        </Text>
        {aside}
      </View>
      {inputType === undefined ? (
        <TextInput
          {...input}
          {...web}
          aria-label={describe ?? label}
          multiline={multiline}
          onSubmitEditing={input.onSubmitEditing ?? (multiline ? undefined : enter)}
          onFocus={(event) => {
            setFocused(true);
            input.onFocus?.(event);
          }}
          onBlur={(event) => {
            setFocused(false);
            input.onBlur?.(event);
          }}
          placeholderTextColor={colour.soft}
          style={[
            styles.input,
            code && styles.code,
            multiline && styles.tall,
            focused && styles.focused,
            error !== undefined && styles.wrong,
          ]}
        />
      ) : (
        // The kit's own would be a line of text, whatever it is said to be.
        <input
          {...web}
          type={inputType}
          aria-label={describe ?? label}
          value={input.value ?? ''}
          min={min}
          max={max}
          onChange={(event) => input.onChangeText?.(event.target.value)}
          onKeyDown={(event) => (event.key === 'Enter' ? enter?.() : undefined)}
          style={error === undefined ? nativeField : wrongField}
        />
      )}
      {hint === undefined ? null : (
        <Text kind="small" tone="soft" nativeID={`${id}-hint`}>
          {hint}
        </Text>
      )}
      {error === undefined ? null : (
        <Text kind="small" tone="brick" nativeID={`${id}-error`} aria-live="polite">{`■ ${error}`}</Text>
      )}
    </View>
  );
}

/** A password, hidden until it is wanted seen. */
export function PasswordField({
  show = 'Show',
  hide = 'Hide',
  ...props
}: Omit<Props, 'secureTextEntry' | 'aside'> & { show?: string; hide?: string }) {
  const [shown, setShown] = useState(false);
  return (
    <Field
      {...props}
      code={shown}
      autoCapitalize="none"
      autoCorrect={false}
      spellCheck={false}
      secureTextEntry={!shown}
      aside={
        <TextButton
          label={shown ? hide : show}
          describe={`${shown ? hide : show} ${props.label.toLowerCase()}`}
          onPress={() => setShown(!shown)}
        />
      }
    />
  );
}

const wrongField = { ...nativeField, border: `${border.hair}px solid ${colour.brick}` };

const styles = StyleSheet.create({
  field: { gap: space.xs, alignSelf: 'stretch' },
  row: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', minHeight: space.xl },
  input: {
    ...type.body,
    color: colour.ink,
    backgroundColor: colour.paper,
    borderColor: colour.edge,
    borderWidth: border.hair,
    borderRadius: radius.m,
    minHeight: space.touch,
    paddingHorizontal: space.m,
    paddingVertical: space.s,
  },
  code: { fontFamily: font.mono },
  tall: { minHeight: 96, textAlignVertical: 'top' },
  focused: { borderColor: colour.sea, outlineColor: colour.sea },
  wrong: { borderColor: colour.brick },
});
