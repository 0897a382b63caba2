/** A list of words, a pattern or a tag that rules speak of. */
import { removePolicyItem } from '@under-lock/contract/rules';
import { type Policy, type PolicyItem, policyItemSchema, rulesNaming } from '@under-lock/core/rules/policy';
import { Banner, Button, Check, Choice, Field, Loading, Result, Row, space, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { api } from '../api';
import { AdministratorsOnly } from '../office/AdministratorsOnly';
import { problemWords } from '../problem-words';
import { fromHere } from '../shell/from-here';
import { useAttempt } from '../shell/useAttempt';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { scanDoor } from '../threads/scan/door';
import { refreshPolicy, useKeeping, usePolicy } from './usePolicy';

const back = <BackToList href="/office/rules" label="Rules" />;

type Item = Extract<PolicyItem, { kind: 'words' | 'pattern' | 'tag' }>;

const TITLES: Record<Item['kind'], string> = { words: 'New word list', pattern: 'New pattern', tag: 'New tag' };

function fresh(kind: Item['kind']): Item {
  const id = crypto.randomUUID();
  if (kind === 'words') return { kind, value: { id, name: '', words: [] } };
  if (kind === 'pattern') return { kind, value: { id, name: '', pattern: '', exact: false } };
  return { kind, value: { id, word: '', place: 'subject', takenOut: true } };
}

function itemIn({ words, patterns, tags }: Policy, id: string): Item | undefined {
  const list = words.find((one) => one.id === id);
  if (list !== undefined) return { kind: 'words', value: list };
  const pattern = patterns.find((one) => one.id === id);
  if (pattern !== undefined) return { kind: 'pattern', value: pattern };
  const tag = tags.find((one) => one.id === id);
  return tag && { kind: 'tag', value: tag };
}

/** @param id `new-words`, `new-pattern` and `new-tag` begin one. */
export const WordsScreen = ({ id }: { id: string }) => (
  <AdministratorsOnly title="Words" sentence="What rules look for is said by the office’s administrators.">
    <OfItem id={id} />
  </AdministratorsOnly>
);

function OfItem({ id }: { id: string }) {
  const { data: policy, error } = usePolicy();
  const kind = (['words', 'pattern', 'tag'] as const).find((one) => id === `new-${one}`);
  if (policy === undefined)
    return (
      <Screen title="Words" back={back}>
        {error === undefined ? <Loading what="Fetching it" /> : <Banner tone="brick">{problemWords(error)}</Banner>}
      </Screen>
    );
  const known = kind === undefined ? itemIn(policy, id) : undefined;
  if (kind === undefined && known === undefined)
    return (
      <Screen title="Not here" back={back}>
        <Text>This has been removed.</Text>
      </Screen>
    );
  return <ItemForm known={known} kind={kind} policy={policy} />;
}

/** What is still wrong with it, in a sentence; a pattern is asked where patterns are run. */
async function problemOf(item: Item): Promise<string | undefined> {
  const name = item.kind === 'tag' ? item.value.word : item.value.name;
  if (name.trim() === '') return item.kind === 'tag' ? 'Write the tag.' : 'Give it a name.';
  if (item.kind === 'words' && item.value.words.length === 0) return 'Write the words, one on each line.';
  if (item.kind === 'tag' && item.value.word.trim().length < 3) return 'A tag has three signs at least.';
  if (item.kind === 'pattern') {
    if (item.value.pattern === '') return 'Write the pattern.';
    const problem = await scanDoor().patternProblem(item.value);
    if (problem !== undefined) return `${problem.what}${problem.where === undefined ? '' : `: “${problem.where}”`}.`;
  }
  const parsed = policyItemSchema.safeParse(item);
  if (parsed.success) return undefined;
  const at = parsed.error.issues[0]?.path.at(-1);
  return item.kind === 'words' && typeof at === 'number'
    ? `“${item.value.words[at] ?? ''}” can’t be taken: a word has two to a hundred letters.`
    : 'It is too long.';
}

function ItemForm({
  known,
  kind,
  policy,
}: {
  known: Item | undefined;
  kind: Item['kind'] | undefined;
  policy: Policy;
}) {
  const [item, setItem] = useState<Item>(() => known ?? fresh(kind!));
  const keepItem = useKeeping(policy);
  const { busy, said, say, attempt } = useAttempt();
  const naming = rulesNaming(policy, item.value.id);
  const act = (task: () => Promise<unknown>, goTo: string): Promise<void> => {
    const goOn = fromHere();
    return attempt(async () => {
      await task();
      goOn(goTo);
    });
  };
  const keep = async (): Promise<void> => {
    const problem = await problemOf(item);
    if (problem !== undefined) return say({ tone: 'brick', text: problem });
    await act(async () => {
      await keepItem(item);
      say({ tone: 'sea', text: 'Kept. It counts from now on.' });
    }, `/office/rules/words/${item.value.id}`);
  };
  const remove = async (): Promise<void> => {
    await api(removePolicyItem, { params: { id: item.value.id } });
    await refreshPolicy();
  };
  return (
    <Screen
      title={known === undefined ? TITLES[item.kind] : item.kind === 'tag' ? item.value.word : item.value.name}
      back={back}
    >
      <ItemFields item={item} onChange={setItem} />
      <Text kind="small" tone="soft">
        {naming.length === 0
          ? 'No rule speaks of it yet.'
          : `Named by ${naming.map((name) => `“${name}”`).join(', ')}.`}
      </Text>
      <Result said={said} />
      <Row>
        <Button kind="main" label="Keep it" onPress={() => void keep()} busy={busy} />
        {known === undefined ? null : (
          <Button kind="stop" label="Remove it" onPress={() => void act(remove, '/office/rules')} />
        )}
      </Row>
    </Screen>
  );
}

const linesIn = (text: string): string[] =>
  text
    .split('\n')
    .map((one) => one.trim())
    .filter((one) => one !== '');

function ItemFields({ item, onChange }: { item: Item; onChange: (item: Item) => void }) {
  const [text, setText] = useState(item.kind === 'words' ? item.value.words.join('\n') : '');
  if (item.kind === 'tag') {
    const { value } = item;
    return (
      <Stack style={styles.fields}>
        <Field
          label="Tag"
          value={value.word}
          onChangeText={(word) => onChange({ ...item, value: { ...value, word } })}
          maxLength={40}
          autoCapitalize="none"
          hint="As it is to be written, brackets included: [health]"
        />
        <Choice
          label="It counts"
          value={value.place}
          options={[
            { value: 'subject', label: 'in the subject' },
            { value: 'first-line', label: 'in the first line of the text' },
          ]}
          onChange={(place) => onChange({ ...item, value: { ...value, place } })}
        />
        <Check
          label="Taken out before it leaves"
          detail="Whoever receives it sees nothing of the tag"
          value={value.takenOut}
          onChange={(takenOut) => onChange({ ...item, value: { ...value, takenOut } })}
        />
      </Stack>
    );
  }
  return (
    <Stack style={styles.fields}>
      <Field
        label="Name"
        value={item.value.name}
        onChangeText={(name) => onChange({ ...item, value: { ...item.value, name } } as Item)}
        maxLength={80}
      />
      {item.kind === 'words' ? (
        <Field
          label="Words"
          value={text}
          onChangeText={(next) => {
            setText(next);
            onChange({ ...item, value: { ...item.value, words: linesIn(next) } });
          }}
          multiline
          autoCapitalize="none"
          hint="One on each line, or several words that belong together. Capitals and accents don’t count; common endings are found, too."
        />
      ) : (
        <>
          <Field
            label="Pattern"
            value={item.value.pattern}
            onChangeText={(pattern) => onChange({ ...item, value: { ...item.value, pattern } })}
            maxLength={500}
            code
            autoCapitalize="none"
            hint="A regular expression without look-around and back-references: BTH-[0-9]{4}"
          />
          <Check
            label="Capitals count"
            value={item.value.exact}
            onChange={(exact) => onChange({ ...item, value: { ...item.value, exact } })}
          />
        </>
      )}
    </Stack>
  );
}

const styles = StyleSheet.create({ fields: { gap: space.m } });
