/** To and Cc: typed, pasted or suggested; what is not an address is said and stays in the field. */
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { readRecipients } from '@under-lock/core/outgoing/recipient-list';
import { type DraftRecipient } from '@under-lock/core/outgoing/draft';
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { border, colour, font, radius, space, Text, TextButton, type } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { memo, type ReactNode, useId, useState } from 'react';
import { Pressable, StyleSheet, TextInput, View } from 'react-native';
import { suggestedFor } from '../../people/suggested';
import { addressProblem } from '../../people/words';
import { useWide } from '../../shell/Screen';
import { lockShapes, lockWords } from '../../locks/lock-words';
import { HeadRow } from './HeadLine';

type Role = DraftRecipient['role'];

interface Props {
  label: 'To' | 'Cc' | 'Bcc';
  role: Role;
  /** Everybody in the message, in whichever line. */
  recipients: readonly DraftRecipient[];
  suggestions: readonly Correspondent[];
  /** The plan's line of each, once there is one. */
  marks: Readonly<Record<string, PlanLine>>;
  onAdd: (role: Role, people: Correspondent[]) => void;
  onRemove: (address: string) => void;
  /** At its right end. */
  aside?: ReactNode;
  /** Has the focus from the first moment. */
  starts?: boolean;
}

/** Somebody chosen: the shape of their lock, their name, and the way out. Drawn again only with their own line. */
const Chip = memo(function Chip({
  one,
  line,
  onRemove,
}: {
  one: DraftRecipient;
  line: PlanLine | undefined;
  onRemove: (address: string) => void;
}) {
  const who = one.name || one.address;
  const stopped = line !== undefined && line.chosen.missing.length > 0;
  const state =
    line === undefined
      ? ''
      : `, ${lockWords[line.chosen.lock].toLowerCase()}${stopped ? ', something is missing' : ''}`;
  return (
    <View style={[styles.chip, stopped && styles.stopped]} role="listitem" aria-label={`${who}${state}`}>
      {line === undefined ? null : (
        <LockShape shape={lockShapes[line.chosen.lock]} state={stopped ? 'outline' : 'filled'} size={16} />
      )}
      <Text kind="small" style={styles.wrap}>
        {who}
      </Text>
      <Pressable role="button" aria-label={`Remove ${who}`} onPress={() => onRemove(one.address)} style={styles.remove}>
        <Text kind="label" tone="soft">
          ✕
        </Text>
      </Pressable>
    </View>
  );
});

/** How many are listed whole, and of more how many come first: a phone has a line for two at most. */
const ROOM = { wide: { whole: 20, first: 12 }, narrow: { whole: 8, first: 4 } } as const;

/** More than anybody looks through are counted: the text keeps its room. */
function Chosen({
  label,
  people,
  marks,
  onRemove,
}: Pick<Props, 'label' | 'marks' | 'onRemove'> & { people: readonly DraftRecipient[] }) {
  const { whole, first } = ROOM[useWide() ? 'wide' : 'narrow'];
  const [all, setAll] = useState(false);
  if (people.length === 0) return null;
  const shown = all || people.length <= whole ? people : people.slice(0, first);
  return (
    <>
      <View role="list" aria-label={`Chosen for ${label}`} style={styles.chosen}>
        {shown.map((one) => (
          <Chip key={one.address} one={one} line={marks[one.address]} onRemove={onRemove} />
        ))}
      </View>
      {people.length <= whole ? null : (
        <TextButton
          label={all ? 'Show fewer' : `and ${people.length - shown.length} more`}
          describe={all ? `Show fewer in ${label}` : `and ${people.length - shown.length} more in ${label}`}
          onPress={() => setAll(!all)}
        />
      )}
    </>
  );
}

const isWhole = (text: string): boolean => {
  const { accepted, rejected } = readRecipients(text);
  return accepted.length > 0 && rejected.length === 0;
};

const mergedWords = (twice: number): string | undefined => {
  if (twice === 0) return undefined;
  return twice === 1
    ? 'One was in the message already and was merged.'
    : `${twice} were in the message already and were merged.`;
};

type Adding = Pick<Props, 'role' | 'recipients' | 'suggestions' | 'onAdd'>;

/** What is typed becomes recipients; what is none is said and stays. */
function useTyped({ role, recipients, suggestions, onAdd }: Adding) {
  const [typed, setTyped] = useState('');
  const [message, setMessage] = useState<string | undefined>();
  const inMessage = new Set(recipients.map(({ address }) => addressKey(address)));
  const nameOf = ({ name, address }: Correspondent): string =>
    name || (suggestions.find((known) => addressKey(known.address) === addressKey(address))?.name ?? '');
  const add = (people: readonly Correspondent[]): void => {
    const fresh = people.filter(({ address }) => !inMessage.has(addressKey(address)));
    if (fresh.length > 0)
      onAdd(
        role,
        fresh.map((one) => ({ ...one, name: nameOf(one) })),
      );
    setMessage(mergedWords(people.length - fresh.length));
  };
  const commit = (text: string): void => {
    if (text.trim() === '') return;
    const { accepted, rejected } = readRecipients(text);
    add(accepted);
    setTyped(rejected.map((one) => one.text).join(', '));
    if (rejected.length > 0) setMessage(`■ “${rejected[0]!.text}”: ${addressProblem[rejected[0]!.problem]}`);
  };
  return {
    typed,
    message,
    suggested: suggestedFor(typed, suggestions, inMessage),
    commit,
    pick: (one: Correspondent): void => {
      setTyped('');
      add([one]);
    },
    type: (text: string): void => {
      setMessage(undefined);
      // A separator ends an address; a paste of several lines is a list.
      if (/[,;\n\r]/.test(text)) commit(text);
      else setTyped(text);
    },
  };
}

/** The list under the field: whether it is open, which of it is marked, and what keys do with it. */
function useChoosing(
  { typed, suggested, commit, pick, type: write }: ReturnType<typeof useTyped>,
  removeLast: (() => void) | undefined,
) {
  const [active, setActive] = useState(0);
  const [dismissed, setDismissed] = useState(false);
  const [focused, setFocused] = useState(false);
  const open = focused && !dismissed && suggested.length > 0;
  /** What Enter and Tab take: the marked suggestion, unless a whole address stands there already. */
  const take = (): void => {
    const one = open && !isWhole(typed) ? suggested[active] : undefined;
    setActive(0);
    if (one !== undefined) pick(one);
    else commit(typed);
  };
  const move = (by: number): void => {
    setDismissed(false);
    if (open) setActive((active + suggested.length + by) % suggested.length);
  };
  const onKey = (key: string, prevent: () => void): void => {
    if (key === 'ArrowDown' || key === 'ArrowUp') {
      if (suggested.length === 0) return;
      prevent();
      move(key === 'ArrowDown' ? 1 : -1);
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
    } else if (key === 'Backspace' && typed === '') removeLast?.();
  };
  return {
    active,
    focused,
    open,
    onKey,
    onFocus: () => setFocused(true),
    onBlur: () => {
      setFocused(false);
      commit(typed);
    },
    onChangeText: (text: string): void => {
      setActive(0);
      setDismissed(false);
      write(text);
    },
  };
}

interface SuggestedProps {
  id: string;
  label: string;
  suggested: readonly Correspondent[];
  active: number;
  onPick: (one: Correspondent) => void;
}

const Suggested = ({ id, label, suggested, active, onPick }: SuggestedProps) => (
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
            onPick(one);
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
);

export const RecipientField = memo(function RecipientField(props: Props) {
  const { label, role, recipients, marks, onRemove, aside, starts = false } = props;
  const id = useId();
  const chosen = recipients.filter((one) => one.role === role);
  const last = chosen.at(-1);
  const writing = useTyped(props);
  const { typed, message, suggested, pick } = writing;
  const { active, focused, open, onKey, ...field } = useChoosing(writing, last && (() => onRemove(last.address)));
  const combobox = {
    role: 'combobox',
    'aria-expanded': open,
    'aria-controls': `${id}-list`,
    'aria-autocomplete': 'list',
    'aria-activedescendant': open ? `${id}-${active}` : undefined,
  } as object;
  return (
    <View style={styles.field}>
      <HeadRow label={label} active={focused} aside={aside}>
        <View style={styles.chips}>
          <Chosen label={label} people={chosen} marks={marks} onRemove={onRemove} />
          <TextInput
            {...combobox}
            {...field}
            aria-label={label}
            autoFocus={starts}
            value={typed}
            onKeyPress={(event) => onKey(event.nativeEvent.key, () => event.preventDefault())}
            inputMode="email"
            autoCapitalize="none"
            autoCorrect={false}
            autoComplete="off"
            placeholder={chosen.length === 0 ? 'name or address' : ''}
            placeholderTextColor={colour.soft}
            style={[styles.input, typed === '' && chosen.length > 0 && styles.untyped]}
          />
        </View>
      </HeadRow>
      {open ? <Suggested id={id} label={label} suggested={suggested} active={active} onPick={pick} /> : null}
      {message === undefined ? null : (
        <Text kind="small" tone={message.startsWith('■') ? 'brick' : 'soft'} aria-live="polite">
          {message}
        </Text>
      )}
    </View>
  );
});

const styles = StyleSheet.create({
  field: { zIndex: 2 },
  chips: { flex: 1, minWidth: 0, flexDirection: 'row', flexWrap: 'wrap', columnGap: space.s, alignItems: 'center' },
  // Its children stand in the row of chips, the field behind the last of them.
  chosen: { display: 'contents' } as object,
  chip: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: space.xs,
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.s,
    paddingLeft: space.s,
    minHeight: 36,
    marginVertical: space.xs,
    maxWidth: '100%',
  },
  stopped: { borderColor: colour.amber },
  remove: { width: 36, height: 36, alignItems: 'center', justifyContent: 'center' },
  input: {
    ...type.body,
    fontFamily: font.sans,
    color: colour.ink,
    minHeight: space.touch,
    flexGrow: 1,
    flexBasis: 120,
    minWidth: 0,
  },
  // Behind the last one chosen, as long as it has nothing to show: a line less on a phone.
  untyped: { flexBasis: 24 },
  list: {
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.edge,
    borderRadius: radius.m,
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
