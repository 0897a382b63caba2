/** How it goes out: a line a recipient, what is missing and the way to settle it, and the handling in a sentence. */
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { checkAddress } from '@under-lock/core/people/address';
import { type DeliveryPlan, type PlanLine } from '@under-lock/core/plan/plan';
import { Banner, border, Button, colour, Field, Row, Section, space, Stack, Text, TextButton } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { checkWords } from '../handling/words';
import { noPhone } from '../people/phone-value';
import { PhoneInput } from '../people/PhoneInput';
import { addressProblem } from '../people/words';
import { problemWords } from '../problem-words';
import { lockWords, missingWords, warningWords } from './words';

export interface PlanActions {
  setPhone(address: string, phone: string): Promise<void>;
  setSecondAddress(address: string, second: string): Promise<void>;
  setCheck(address: string, check: IdentityCheck): void;
}

function Settle({ line, actions, onDone }: { line: PlanLine; actions: PlanActions; onDone?: () => void }) {
  const { address, name } = line.recipient;
  const kind = line.chosen.check?.kind ?? 'text';
  const [phone, setPhone] = useState(noPhone);
  const [second, setSecond] = useState('');
  const [error, setError] = useState<string | undefined>();
  const keep = async (): Promise<void> => {
    try {
      if (kind === 'text') {
        if (phone.e164 === undefined) return setError(phone.problem);
        await actions.setPhone(address, phone.e164);
      } else {
        const checked = checkAddress(second);
        if (!checked.ok) return setError(addressProblem[checked.problem]);
        await actions.setSecondAddress(address, checked.address);
      }
      setError(undefined);
      onDone?.();
    } catch (cause) {
      setError(problemWords(cause));
    }
    return undefined;
  };
  const other: IdentityCheck = kind === 'text' ? 'email' : 'text';
  return (
    <Stack style={styles.settle}>
      {kind === 'text' ? (
        <PhoneInput label={`Phone of ${name || address}`} value={phone} onChange={setPhone} error={error} />
      ) : (
        <Field label={`Second address of ${name || address}`} value={second} onChangeText={setSecond} inputMode="email" autoCapitalize="none" error={error} />
      )}
      <Row>
        <Button label={kind === 'text' ? 'Keep the number' : 'Keep the address'} onPress={() => void keep()} />
        <TextButton label={other === 'email' ? 'Use a second e-mail instead' : 'Use a text message instead'} onPress={() => { setError(undefined); actions.setCheck(address, other); }} />
      </Row>
    </Stack>
  );
}

function PlanRow({ line, actions }: { line: PlanLine; actions: PlanActions }) {
  const [changing, setChanging] = useState(false);
  const { recipient, chosen } = line;
  const stopped = chosen.missing.length > 0;
  const who = recipient.name || recipient.address;
  return (
    <View style={styles.row} role="listitem">
      <LockShape shape="arch" state={stopped ? 'stopped' : 'filled'} />
      <View style={styles.words}>
        <Text kind="strong" style={styles.wrap}>{who}</Text>
        {recipient.name === '' ? null : <Text kind="small" tone="soft" style={styles.wrap}>{recipient.address}</Text>}
        <Text kind="small">{`${lockWords[chosen.lock]}, ${checkWords[chosen.check!.kind].toLowerCase()}${chosen.check!.hint === '' ? '' : ` to ${chosen.check!.hint}`}`}</Text>
        <Text kind="small" tone="soft">Needs nothing but a browser at their end; can be closed and withdrawn.</Text>
        {chosen.missing.map(({ code }) => <Text key={code} kind="small" tone="brick">{`■ ${missingWords[code]}`}</Text>)}
        {chosen.warnings.map((warning) => <Text key={warning.code} kind="small" tone="amber">{`▲ ${warningWords(warning)}`}</Text>)}
        {stopped || changing ? <Settle key={chosen.check!.kind} line={line} actions={actions} onDone={() => setChanging(false)} /> : (
          <TextButton label="Change" describe={`Change how ${who} proves who they are`} onPress={() => setChanging(true)} />
        )}
      </View>
    </View>
  );
}

export function PlanPanel({ plan, actions, sentence }: { plan: DeliveryPlan; actions: PlanActions; sentence: string | undefined }) {
  return (
    <Stack>
      <Section title="How it goes out">
        {plan.lines.length === 0 ? <Text tone="soft">Add a recipient, and this shows how it will reach them and what is missing.</Text> : (
          <View role="list">{plan.lines.map((line) => <PlanRow key={line.recipient.address} line={line} actions={actions} />)}</View>
        )}
      </Section>
      <Section title="Handling">
        {sentence === undefined ? <Banner tone="brick">There is no valid closing date yet.</Banner> : <View style={styles.sentence}><Text kind="small">{sentence}</Text></View>}
        <Text kind="small" tone="soft">Saving is not offered where it is switched off. Nobody can rule out a photo of a screen.</Text>
      </Section>
    </Stack>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: space.m, paddingVertical: space.m, borderBottomWidth: border.hair, borderBottomColor: colour.line },
  words: { flex: 1, gap: border.strong, minWidth: 0 },
  wrap: { overflowWrap: 'anywhere' } as object,
  settle: { paddingTop: space.s, gap: space.s },
  sentence: { borderLeftWidth: border.bar, borderLeftColor: colour.sea, paddingLeft: space.m },
});
