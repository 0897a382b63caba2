/** To and Cc: typed, pasted or suggested; what is not an address is said and stays in the field. */
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { readRecipients } from '@under-lock/core/outgoing/recipient-list';
import { border, colour, font, radius, space, Text, type } from '@under-lock/ui';
import { memo, useId, useState } from 'react';
import { Pressable, StyleSheet, TextInput, View } from 'react-native';
import { addressProblem } from '../../people/words';

interface Props {
  label: 'To' | 'Cc' | 'Bcc';
  chosen: readonly Correspondent[];
  /** Everybody in the message already, in either line. */
  taken: readonly Correspondent[];
  suggestions: readonly Correspondent[];
  onAdd: (people: Correspondent[]) => void;
  onRemove: (address: string) => void;
}

const MAX_SUGGESTED = 6;

const isWhole = (text: string): boolean => {
  const { accepted, rejected } = readRecipients(text);
  return accepted.length > 0 && rejected.length === 0;
};

export const RecipientField = memo(function RecipientField({
  label,
  chosen,
  taken,
  suggestions,
  onAdd,
  onRemove,
}: Props) {
  const id = useId();
  const [typed, setTyped] = useState('');
  const [message, setMessage] = useState<string | undefined>();
  const [active, setActive] = useState(0);
  const [dismissed, setDismissed] = useState(false);
  const [focused, setFocused] = useState(false);
  const keys = new Set(taken.map(({ address }) => addressKey(address)));
  const wanted = typed.trim().toLowerCase();
  const suggested =
    wanted === ''
      ? []
      : suggestions
          .filter(
            (one) => !keys.has(addressKey(one.address)) && `${one.name} ${one.address}`.toLowerCase().includes(wanted),
          )
          .slice(0, MAX_SUGGESTED);

  const add = (people: Correspondent[]): void => {
    const fresh = people.filter(({ address }) => !keys.has(addressKey(address)));
    const twice = people.length - fresh.length;
    if (fresh.length > 0)
      onAdd(
        fresh.map((one) => ({
          ...one,
          name:
            one.name ||
            (suggestions.find((known) => addressKey(known.address) === addressKey(one.address))?.name ?? ''),
        })),
      );
    setMessage(
      twice === 0
        ? undefined
        : twice === 1
          ? 'One was in the message already and was merged.'
          : `${twice} were in the message already and were merged.`,
    );
    setActive(0);
  };
  const commit = (text: string): void => {
    if (text.trim() === '') return;
    const { accepted, rejected } = readRecipients(text);
    add(accepted);
    setTyped(rejected.map((one) => one.text).join(', '));
    if (rejected.length > 0) setMessage(`■ “${rejected[0]!.text}”: ${addressProblem[rejected[0]!.problem]}`);
  };
  const pick = (one: Correspondent): void => {
    setTyped('');
    add([one]);
  };
  const onChange = (text: string): void => {
    setMessage(undefined);
    setActive(0);
    setDismissed(false);
    // A separator ends an address; a paste of several lines is a list.
    if (/[,;\n\r]/.test(text)) commit(text);
    else setTyped(text);
  };
  const open = focused && !dismissed && suggested.length > 0;
  /** What Enter and Tab take: the marked suggestion, unless a whole address stands there already. */
  const take = (): void => {
    const one = open && !isWhole(typed) ? suggested[active] : undefined;
    if (one !== undefined) pick(one);
    else commit(typed);
  };
  const onKey = (key: string, prevent: () => void): void => {
    if (key === 'ArrowDown' || key === 'ArrowUp') {
      if (suggested.length === 0) return;
      prevent();
      setDismissed(false);
      if (open) setActive((key === 'ArrowDown' ? active + 1 : active + suggested.length - 1) % suggested.length);
    } else if (key === 'Escape') {
      // The first press closes the list and stops there; the next is for whatever holds the field.
      if (open) prevent();
      setDismissed(true);
    } else if (key === 'Enter') {
      if (typed.trim() !== '') prevent();
      take();
    } else if (key === 'Tab') {
      // Tab always goes on to the next field: nobody is held in this one.
      take();
    } else if (key === 'Backspace' && typed === '' && chosen.length > 0) {
      onRemove(chosen.at(-1)!.address);
    }
  };
  const combobox = {
    role: 'combobox',
    'aria-expanded': open,
    'aria-controls': `${id}-list`,
    'aria-autocomplete': 'list',
    'aria-activedescendant': open ? `${id}-${active}` : undefined,
  } as object;
  return (
    <View style={styles.field}>
      <View style={styles.line}>
        <Text kind="small" tone="soft" style={styles.label}>
          {label}
        </Text>
        <View style={styles.chips}>
          {chosen.map((one) => (
            <View key={one.address} style={styles.chip}>
              <Text kind="small" style={styles.wrap}>
                {one.name === '' ? one.address : one.name}
              </Text>
              <Pressable
                role="button"
                aria-label={`Remove ${one.name || one.address}`}
                onPress={() => onRemove(one.address)}
                style={styles.remove}
              >
                <Text kind="label" tone="soft">
                  ✕
                </Text>
              </Pressable>
            </View>
          ))}
          <TextInput
            {...combobox}
            aria-label={label}
            value={typed}
            onChangeText={onChange}
            onFocus={() => setFocused(true)}
            onBlur={() => {
              setFocused(false);
              commit(typed);
            }}
            onKeyPress={(event) => onKey(event.nativeEvent.key, () => event.preventDefault())}
            inputMode="email"
            autoCapitalize="none"
            autoCorrect={false}
            autoComplete="off"
            placeholder={chosen.length === 0 ? 'name or address' : ''}
            placeholderTextColor={colour.soft}
            style={styles.input}
          />
        </View>
      </View>
      {open ? (
        <View
          {...({ role: 'listbox' } as object)}
          nativeID={`${id}-list`}
          aria-label={`People for ${label}`}
          style={styles.list}
        >
          {suggested.map((one, index) => (
            // On pointer down, before the field loses focus and takes what was typed.
            <View
              key={one.address}
              nativeID={`${id}-${index}`}
              aria-selected={index === active}
              {...({
                role: 'option',
                onPointerDown: (event: { preventDefault(): void }) => {
                  event.preventDefault();
                  pick(one);
                },
              } as object)}
              style={[styles.option, index === active && styles.active]}
            >
              <Text style={styles.wrap}>{one.name || one.address}</Text>
              {one.name === '' ? null : (
                <Text kind="small" tone="soft" style={styles.wrap}>
                  {one.address}
                </Text>
              )}
            </View>
          ))}
        </View>
      ) : null}
      {message === undefined ? null : (
        <Text kind="small" tone={message.startsWith('■') ? 'brick' : 'soft'} aria-live="polite">
          {message}
        </Text>
      )}
    </View>
  );
});

const styles = StyleSheet.create({
  field: { borderBottomWidth: border.hair, borderBottomColor: colour.line, paddingVertical: space.xs, zIndex: 2 },
  line: { flexDirection: 'row', gap: space.m, alignItems: 'flex-start' },
  label: { width: 72, paddingTop: space.m },
  chips: { flex: 1, flexDirection: 'row', flexWrap: 'wrap', gap: space.s, alignItems: 'center' },
  chip: {
    flexDirection: 'row',
    alignItems: 'center',
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.s,
    paddingLeft: space.s,
    minHeight: space.touch,
    maxWidth: '100%',
  },
  remove: { width: space.touch, height: space.touch, alignItems: 'center', justifyContent: 'center' },
  input: {
    ...type.body,
    fontFamily: font.sans,
    color: colour.ink,
    minHeight: space.touch,
    flexGrow: 1,
    flexBasis: 160,
    paddingHorizontal: space.s,
  },
  list: {
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.edge,
    borderRadius: radius.m,
    marginLeft: 84,
  },
  option: {
    minHeight: space.touch,
    paddingHorizontal: space.m,
    paddingVertical: space.xs,
    cursor: 'pointer',
  } as object,
  active: { backgroundColor: colour.paleSea },
  wrap: { overflowWrap: 'anywhere' } as object,
});
