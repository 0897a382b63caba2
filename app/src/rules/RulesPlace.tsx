/** Office › Rules: the list of rules, and the words, patterns and tags they speak of. */
import { type Policy } from '@under-lock/core/rules/policy';
import { Button, Empty, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { AdministratorsOnly } from '../office/AdministratorsOnly';
import { ListIndex, NothingChosen } from '../shell/ListAndPage';
import { Lines, Listed } from '../shell/Listed';
import { ListLine } from '../shell/ListLine';
import { ListRow, ListScreen, ListSection } from '../shell/ListScreen';
import { WayLink } from '../shell/WayLink';
import { RuleState } from './RuleState';
import { figuresInWords, useFigures } from './useFigures';
import { usePolicy } from './usePolicy';

const toOffice = <WayLink href="/office" label="Office" />;
const newRule = (): void => router.push('/office/rules/new' as never);

const counted = (count: number, what: string): string => `${count} ${what}${count === 1 ? '' : 's'}`;

/** What rules speak of, each on a page of its own. */
function linesOf({ words, patterns, tags }: Policy) {
  return [
    ...words.map((one) => ({ id: one.id, title: one.name, about: counted(one.words.length, 'word') })),
    ...patterns.map((one) => ({ id: one.id, title: one.name, about: `pattern ${one.pattern}` })),
    ...tags.map((one) => ({ id: one.id, title: one.word, about: 'tag' })),
  ];
}

export function RulesList() {
  const { data: policy, error } = usePolicy();
  const { data: figures } = useFigures();
  const byName = policy && [...policy.rules].sort((one, other) => one.name.localeCompare(other.name));
  return (
    <ListScreen title="Rules" back={toOffice} aside={<Button label="New rule" onPress={newRule} />}>
      <ListRow>
        <Text kind="small" tone="soft">
          Their order has no meaning: the strictest wins.
        </Text>
      </ListRow>
      <Listed items={byName} error={error} fetching="Fetching the rules" empty={<NoRules />}>
        {(rule, last) => {
          const about = figuresInWords(
            figures?.rules.find(({ id }) => id === rule.id),
            rule.state,
          );
          return (
            <ListLine
              key={rule.id}
              href={`/office/rules/${rule.id}`}
              label={`${rule.name}, ${rule.state === 'tried' ? 'trying' : rule.state}, ${about}`}
              title={rule.name}
              about={about}
              mark={<RuleState state={rule.state} />}
              last={last}
            />
          );
        }}
      </Listed>
      {policy === undefined ? null : (
        <ListSection title="Words, patterns and tags">
          <Lines items={linesOf(policy)}>
            {({ id, title, about }, last) => (
              <ListLine
                key={id}
                href={`/office/rules/words/${id}`}
                label={`${title}, ${about}`}
                title={title}
                about={about}
                last={last}
              />
            )}
          </Lines>
          <ListRow>
            {(['words', 'pattern', 'tag'] as const).map((kind) => (
              <Button
                key={kind}
                kind="quiet"
                label={{ words: 'New word list', pattern: 'New pattern', tag: 'New tag' }[kind]}
                onPress={() => router.push(`/office/rules/words/new-${kind}` as never)}
              />
            ))}
          </ListRow>
        </ListSection>
      )}
    </ListScreen>
  );
}

const NoRules = () => (
  <Empty title="No rules yet" action={<Button kind="main" label="Make the first one" onPress={newRule} />}>
    A rule says what must happen when something is so: an account number in a file, a recipient outside, a word in the
    subject. Everybody’s browser keeps to it before anything leaves.
  </Empty>
);

export const RulesIndex = () => (
  <AdministratorsOnly
    title="Rules"
    sentence="Rules are made by the office’s administrators. Those that act on your message are named in its plan."
  >
    <ListIndex list={<RulesList />}>
      <NothingChosen title="Rules">
        Choose a rule: its page shows when it acts, what it asks, and how often it has.
      </NothingChosen>
    </ListIndex>
  </AdministratorsOnly>
);
