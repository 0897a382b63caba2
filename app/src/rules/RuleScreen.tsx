/** One rule: when it acts, what it asks, on what it was tried, how often it acted, and as what it was before. */
import { listItemVersions, removePolicyItem, type ItemVersion } from '@under-lock/contract/rules';
import { type Policy } from '@under-lock/core/rules/policy';
import { type Rule, RULE_STATES } from '@under-lock/core/rules/rule';
import { whenInWords } from '@under-lock/core/rules/when-words';
import { momentInWords } from '@under-lock/core/when';
import { Chip } from '@under-lock/ui/chip';
import { Columns } from '@under-lock/ui/columns';
import {
  Banner,
  Button,
  Dialog,
  Field,
  Fold,
  Loading,
  Result,
  Row,
  Section,
  space,
  Stack,
  Text,
  TextButton,
} from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { listed } from '../handling/words';
import { told } from '../live/live';
import { AdministratorsOnly } from '../office/AdministratorsOnly';
import { problemWords } from '../problem-words';
import { fromHere } from '../shell/from-here';
import { useAttempt } from '../shell/useAttempt';
import { BackToList } from '../shell/ListAndPage';
import { useColleagues } from '../session/useOffice';
import { Screen } from '../shell/Screen';
import { Examples } from './Examples';
import { type Names, type Option } from './forms/part';
import { isSound, newRule, problemsIn } from './rule-edit';
import { RuleHalves } from './RuleHalves';
import { RuleMonth } from './RuleMonth';
import { RuleWarnings, warningsFor } from './RuleWarnings';
import { useFigures } from './useFigures';
import { useNames } from './useNames';
import { effectAsks } from './words';
import { refreshPolicy, useKeeping, usePolicy } from './usePolicy';

const back = <BackToList href="/office/rules" label="Rules" />;
const STATES = { off: 'Off', tried: 'Tried silently', on: 'On' } as const;
const STATE_SENTENCES = {
  off: 'It counts for nobody.',
  tried: 'Nobody sees anything of it; what it would have done is counted.',
  on: 'It acts on everything that is sent.',
} as const;

/** @param copyOf The rule that a new one begins as. */
export const RuleScreen = ({ id, copyOf }: { id: string; copyOf: string | undefined }) => (
  <AdministratorsOnly title="Rule" sentence="Rules are made by the office’s administrators.">
    <OfRule id={id} copyOf={copyOf} />
  </AdministratorsOnly>
);

function OfRule({ id, copyOf }: { id: string; copyOf: string | undefined }) {
  const { data: policy, error } = usePolicy();
  const names = useNames();
  const { data: versions } = useSWR(
    id === 'new' ? null : ['item-versions', id],
    async () => (await api(listItemVersions, { params: { id } })).versions,
    { use: [told('office')] },
  );
  if (policy === undefined || names === undefined || (id !== 'new' && versions === undefined))
    return (
      <Screen title="Rule" back={back}>
        {error === undefined ? (
          <Loading what="Fetching the rule" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  const known = policy.rules.find((one) => one.id === id);
  if (known === undefined && id !== 'new')
    return (
      <Screen title="Not here" back={back}>
        <Text>This rule has been removed.</Text>
      </Screen>
    );
  const copied = policy.rules.find((one) => one.id === copyOf);
  return <RulePage {...{ known, copied, policy, names, versions: versions ?? [] }} />;
}

interface PageProps {
  known: Rule | undefined;
  copied: Rule | undefined;
  policy: Policy;
  names: Names;
  versions: readonly ItemVersion[];
}

const asCopy = (rule: Rule): Rule => ({
  ...rule,
  id: crypto.randomUUID(),
  name: `Copy of ${rule.name}`.slice(0, 80),
  state: 'tried',
});

/** The rule as it is being changed, and keeping it. */
function useEditedRule({ known, copied, policy }: PageProps) {
  const [rule, setRule] = useState(
    () => known ?? (copied === undefined ? newRule(crypto.randomUUID()) : asCopy(copied)),
  );
  const keepItem = useKeeping(policy);
  const [tried, setTried] = useState(false);
  const { busy, said, attempt } = useAttempt();
  const problems = problemsIn(rule);
  const keep = async (): Promise<void> => {
    setTried(true);
    if (!isSound(problems)) return;
    const goOn = fromHere();
    await attempt(async () => {
      await keepItem({ kind: 'rule', value: rule });
      goOn(`/office/rules/${rule.id}?kept=${Date.now()}`);
    });
  };
  return {
    rule,
    change: (change: Partial<Rule>): void => setRule((before) => ({ ...before, ...change })),
    problems: tried ? problems : undefined,
    busy,
    said,
    keep,
  };
}
type Edited = ReturnType<typeof useEditedRule>;

function RulePage(props: PageProps) {
  const { known, policy, names, versions } = props;
  const edited = useEditedRule(props);
  const { rule, change, problems, busy, said, keep } = edited;
  const { data: figures } = useFigures();
  const now = useNow();
  const { data: colleagues } = useColleagues();
  // Nothing is said of who may release before it is known.
  const releasers = colleagues === undefined ? 1 : colleagues.filter(({ mayRelease }) => mayRelease).length;
  const warnings = warningsFor(rule, policy.rules, { seen: figures?.seen ?? [], releasers });
  return (
    <Screen
      title={known === undefined ? 'New rule' : known.name}
      back={back}
      broad
      aside={
        <Row>
          {known === undefined ? null : (
            <Button label="Copy" onPress={() => router.push(`/office/rules/new?copy=${known.id}` as never)} />
          )}
          <Button
            kind="main"
            label={known === undefined ? 'Keep the rule' : `Keep as version ${versions.length + 1}`}
            onPress={() => void keep()}
            busy={busy}
          />
        </Row>
      }
    >
      <Result said={said} />
      {problems === undefined || isSound(problems) ? null : (
        <Banner tone="brick">Not kept yet: what is marked below is missing.</Banner>
      )}
      <Columns room="even">
        <Field
          label="Name"
          value={rule.name}
          onChangeText={(name) => change({ name })}
          maxLength={80}
          error={problems?.name}
        />
        <RuleStates state={rule.state} onChange={(state) => change({ state })} />
      </Columns>
      <RuleHalves rule={rule} names={names} problems={problems} onChange={change} />
      <RuleWarnings warnings={warnings} />
      <Columns>
        <Examples rule={rule} policy={policy} names={names} isKept={known !== undefined} />
        <Stack>
          <RuleMonth rule={rule} figures={figures?.rules.find(({ id }) => id === rule.id)} now={now} />
          <Versions versions={versions} names={names} now={now} edited={edited} />
        </Stack>
      </Columns>
      {known === undefined ? null : <RemoveRule rule={known} />}
    </Screen>
  );
}

const RuleStates = ({ state, onChange }: { state: Rule['state']; onChange: (state: Rule['state']) => void }) => (
  <View role="radiogroup" aria-label="State">
    <Text kind="label" tone="soft">
      State
    </Text>
    <Row>
      {RULE_STATES.map((one) => (
        <Chip key={one} as="radio" label={STATES[one]} on={state === one} onPress={() => onChange(one)} />
      ))}
    </Row>
    <Text kind="small" tone="soft">
      {STATE_SENTENCES[state]}
    </Text>
  </View>
);

/** What a rule said, in a sentence: whoever goes back to it knows to what. */
function inWords({ state, when, effects }: Rule, names: Names): string {
  const among = (options: readonly Option[]) => (id: string) =>
    options.find(({ value }) => value === id)?.label ?? 'one that is gone';
  const [preset, tag, list] = [among(names.presets), among(names.tags), among(names.lists)];
  const asked = effects.flatMap((effect) => effectAsks(effect, preset));
  return `${whenInWords(when, { preset, tag, list })}: ${listed(asked, 'and')}. ${STATES[state]}.`;
}

interface EarlierProps {
  /** Which one it is, counted from the first. */
  ordinal: number;
  version: ItemVersion;
  names: Names;
  now: Date;
  onBack: (rule: Rule) => void;
}

function Earlier({ ordinal, version: { at, by, item }, names, now, onBack }: EarlierProps) {
  const rule = item?.kind === 'rule' ? item.value : undefined;
  return (
    <View>
      <Text kind="small">{`${ordinal}: ${rule?.name ?? 'removed'}, by ${by}, ${momentInWords(at, now, zone)}`}</Text>
      {rule === undefined ? null : (
        <>
          <Text kind="small" tone="soft">
            {inWords(rule, names)}
          </Text>
          <Row>
            <TextButton
              label="Back to this one"
              describe={`Back to this one: version ${ordinal}`}
              onPress={() => onBack(rule)}
            />
          </Row>
        </>
      )}
    </View>
  );
}

interface VersionsProps {
  versions: readonly ItemVersion[];
  names: Names;
  now: Date;
  edited: Edited;
}

/** Every version there was, the latest first; an earlier one is taken up and kept as a new one. */
function Versions({ versions, names, now, edited }: VersionsProps) {
  const [taken, setTaken] = useState<number | undefined>();
  if (versions.length === 0) return null;
  const [latest] = versions;
  const head = `Version ${versions.length}, by ${latest!.by}, ${momentInWords(latest!.at, now, zone)}`;
  return (
    <Section title="Versions">
      <Fold label={head} head={<Text>{head}</Text>}>
        <Stack style={styles.versions}>
          {versions.slice(1).map((version, index) => {
            const ordinal = versions.length - 1 - index;
            return (
              <Earlier
                key={version.version}
                {...{ ordinal, version, names, now }}
                onBack={(rule) => {
                  edited.change(rule);
                  setTaken(ordinal);
                }}
              />
            );
          })}
          {versions.length === 1 ? <Text kind="small">There is none before it.</Text> : null}
          {taken === undefined ? null : (
            <Text
              kind="small"
              tone="sea"
              aria-live="polite"
            >{`● This is version ${taken}. It counts again once you keep it.`}</Text>
          )}
        </Stack>
      </Fold>
    </Section>
  );
}

function RemoveRule({ rule }: { rule: Rule }) {
  const [asking, setAsking] = useState(false);
  const { said, attempt } = useAttempt();
  const remove = (): void => {
    const goOn = fromHere();
    setAsking(false);
    void attempt(async () => {
      await api(removePolicyItem, { params: { id: rule.id } });
      await refreshPolicy();
      goOn('/office/rules');
    });
  };
  return (
    <>
      <Result said={said} />
      <Row>
        <Button kind="stop" label="Remove the rule" onPress={() => setAsking(true)} />
      </Row>
      <Dialog
        title={`Remove “${rule.name}”?`}
        open={asking}
        onClose={() => setAsking(false)}
        actions={
          <>
            <Button kind="stop" label="Remove" onPress={remove} />
            <Button label="Keep" onPress={() => setAsking(false)} />
          </>
        }
      >
        <Text>It acts on nothing from now on. Messages on which it acted keep its name, and its versions stay.</Text>
      </Dialog>
    </>
  );
}

const styles = StyleSheet.create({ versions: { gap: space.xs } });
