/** How it goes out: a line a recipient, what is missing and the way to settle it, and the handling in a sentence. */
import { IDENTITY_CHECKS, type IdentityCheck } from '@under-lock/core/handling/handling';
import { type LockName, type Missing, type Reason } from '@under-lock/core/locks/index';
import { type DeliveryPlan, type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { Banner, border, Button, Choice, colour, Row, Section, space, Stack, Text, TextButton } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { memo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { checkWords } from '../../handling/words';
import { FileSettle } from './FileSettle';
import { type PlanActions } from './plan-actions';
import { SameQuestion } from './SameQuestion';
import { Settle } from './Settle';
import { lockLabel, lockShapes, lockWords, missingSentence, warningWords } from './plan-words';

/** What no phone, address or answer would settle: somebody has to go, or the handling has to be another one. */
const barred: ReadonlySet<Missing['code']> = new Set([
  'staff-only',
  'outsiders-only',
  'nobody-allowed',
  'colleague-not-ready',
  'colleague-key-changed',
]);

const reasonWords: Record<Reason['code'], string> = {
  'nothing-needed-at-their-end': 'Needs nothing but a browser at their end',
  'can-be-closed-and-withdrawn': 'can be closed and withdrawn',
  'signed-in-here': 'A colleague: finds it in Received, no notice needed',
  'opens-in-their-program': 'Opens in their own mail program',
  'stays-with-them': 'it stays with them: it can’t be closed, withdrawn or limited',
  'signed-and-readable': 'Goes as ordinary mail with your signature; anybody on its way can read it',
  'opens-with-a-password': 'Opens with a password and nothing else',
  'packed-together': 'All files in one, for any unpacking program',
  'travels-as-a-file':
    'Comes with their mail as a file, and opens in the reading room with the half of the key that stays here',
  'has-a-password': 'Has a password here: finds it in their list, and a notice tells them',
};

function checkSentence({ chosen: { lock, check, clear } }: PlanLine): string {
  if (clear === true) return lock === 'file' ? 'Only packed, not locked' : 'Signed, not locked';
  if (check === undefined) return lockWords[lock];
  if (check.kind === 'account' || check.kind === 'password')
    return `${lockWords[lock]}, ${checkWords[check.kind].toLowerCase()}`;
  const way = `${checkWords[check.kind].charAt(0).toLowerCase()}${checkWords[check.kind].slice(1)}${check.hint === '' ? '' : ` to ${check.hint}`}`;
  return `${lockWords[lock]}, ${way}${check.question && check.kind !== 'question' ? ' and a question' : ''}`;
}

/** A copy would be allowed, and only their certificate or key is not known. */
const wantsMeans = ({ chosen, alternatives }: PlanLine): boolean =>
  chosen.check?.kind !== 'account' &&
  [chosen, ...alternatives]
    .filter(({ lock }) => lock === 'certificate' || lock === 'openpgp')
    .every(
      ({ missing }) =>
        missing.length === 1 && (missing[0]!.code === 'certificate-missing' || missing[0]!.code === 'key-missing'),
    );

/** What a locked file can't do, and what can. */
function Carry({ who, onChoose }: { who: string; onChoose: () => void }) {
  return (
    <>
      <Text kind="small" tone="soft">
        A carried page comes as a file, too, and can be closed and withdrawn.
      </Text>
      <Row>
        <TextButton
          label="Send a carried page instead"
          describe={`Send a carried page instead to ${who}`}
          onPress={onChoose}
        />
      </Row>
    </>
  );
}

interface RowProps {
  line: PlanLine;
  leastCheck: IdentityCheck;
  actions: PlanActions;
  /** The one their locked file opens with, when there is one. */
  password: string | undefined;
}

/** Drawn again only when something of it changed. */
const PlanRow = memo(function PlanRow({ line, leastCheck, actions, password }: RowProps) {
  const [changing, setChanging] = useState(false);
  const { recipient, chosen } = line;
  const stopped = chosen.missing.length > 0;
  const isBarred = chosen.missing.some(({ code }) => barred.has(code));
  const who = recipient.name || recipient.address;
  const checks = IDENTITY_CHECKS.slice(IDENTITY_CHECKS.indexOf(leastCheck)).reverse();
  const locks = (Object.keys(lockWords) as LockName[]).filter((lock) =>
    [chosen, ...line.alternatives].some((one) => one.lock === lock && one.available),
  );
  const asks = chosen.check !== undefined && chosen.check.kind !== 'account';
  return (
    <View style={styles.row} role="listitem">
      <LockShape shape={lockShapes[chosen.lock]} state={stopped ? 'stopped' : 'filled'} />
      <View style={styles.words}>
        <Text kind="strong" style={styles.wrap}>
          {who}
        </Text>
        {recipient.name === '' ? null : (
          <Text kind="small" tone="soft" style={styles.wrap}>
            {recipient.address}
          </Text>
        )}
        <Text kind="small">{checkSentence(line)}</Text>
        <Text kind="small" tone="soft">{`${chosen.reasons.map(({ code }) => reasonWords[code]).join('; ')}.`}</Text>
        {chosen.missing.map((missing) => (
          <Text key={missing.code} kind="small" tone="brick">{`■ ${missingSentence(missing)}`}</Text>
        ))}
        {chosen.warnings.map((warning) => (
          <Text key={warning.code} kind="small" tone="amber">{`▲ ${warningWords(warning)}`}</Text>
        ))}
        {locks.length < 2 ? null : (
          <Choice
            row
            label={`Lock for ${who}`}
            value={chosen.lock}
            onChange={(lock) => actions.setLock(recipient.address, lock)}
            options={locks.map((value) => ({ value, label: lockLabel(value, chosen.clear === true) }))}
          />
        )}
        {chosen.lock === 'file' && locks.includes('carried') ? (
          <Carry who={who} onChoose={() => actions.setLock(recipient.address, 'carried')} />
        ) : null}
        {chosen.lock === 'file' && chosen.clear !== true && !isBarred ? (
          <FileSettle line={line} actions={actions} password={password} />
        ) : null}
        {wantsMeans(line) && !(chosen.lock === 'file' && chosen.missing.length > 0)
          ? actions.askSigned(recipient.address)
          : null}
        {chosen.missing.some(({ code }) => code === 'colleague-key-changed') ? (
          <Row>
            <Button
              label="I asked them: take the new key"
              describe={`I asked them: take the new key of ${who}`}
              onPress={() => void actions.takeNewKey(recipient.address)}
            />
          </Row>
        ) : null}
        {isBarred ? (
          <Row>
            <Button label="Leave out" describe={`Leave out ${who}`} onPress={() => actions.remove(recipient.address)} />
          </Row>
        ) : null}
        {asks && !isBarred && (stopped || changing) ? (
          <Settle
            key={chosen.check!.kind}
            line={line}
            checks={checks}
            actions={actions}
            onWriting={() => setChanging(true)}
          />
        ) : null}
        {asks && !isBarred && !stopped ? (
          <TextButton
            label={changing ? 'Done' : 'Change'}
            describe={`${changing ? 'Done changing' : 'Change'} how ${who} proves who they are`}
            onPress={() => setChanging(!changing)}
          />
        ) : null}
      </View>
    </View>
  );
});

interface Props {
  plan: DeliveryPlan;
  leastCheck: IdentityCheck;
  actions: PlanActions;
  sentence: string | undefined;
  /** Why the handling is stricter than what was chosen. */
  because: readonly string[];
}

export const PlanPanel = memo(function PlanPanel({ plan, leastCheck, actions, sentence, because }: Props) {
  const asked = plan.lines.filter(({ chosen }) => chosen.check?.question === true);
  const clear = plan.lines.some(({ chosen }) => chosen.clear === true);
  return (
    <Stack>
      <Section title="How it goes out">
        {plan.lines.length === 0 ? (
          <Text tone="soft">Add a recipient, and this shows how it will reach them and what is missing.</Text>
        ) : (
          <>
            {asked.length > 1 ? <SameQuestion lines={asked} actions={actions} /> : null}
            <View role="list">
              {plan.lines.map((line) => (
                <PlanRow
                  key={line.recipient.address}
                  line={line}
                  leastCheck={leastCheck}
                  actions={actions}
                  password={line.chosen.lock === 'file' ? actions.passwordOf(line.recipient.address) : undefined}
                />
              ))}
            </View>
          </>
        )}
      </Section>
      <Section title="Handling">
        {sentence === undefined ? (
          <Banner tone="brick">There is no valid closing date yet.</Banner>
        ) : (
          <View style={styles.sentence}>
            <Text kind="small">{sentence}</Text>
          </View>
        )}
        {because.map((one) => (
          <Text key={one} kind="small" tone="amber">{`▲ ${one}`}</Text>
        ))}
        {clear ? null : (
          <Text kind="small" tone="soft">
            What is switched off is not offered, and printing, saving and forwarding are refused here. Copying is only
            discouraged; nobody can rule out a photo of a screen.
          </Text>
        )}
      </Section>
    </Stack>
  );
});

const styles = StyleSheet.create({
  // What is not in sight is not laid out at each key.
  row: {
    flexDirection: 'row',
    gap: space.m,
    paddingVertical: space.m,
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
    contentVisibility: 'auto',
    containIntrinsicSize: 'auto 140px',
  } as object,
  words: { flex: 1, gap: border.strong, minWidth: 0 },
  wrap: { overflowWrap: 'anywhere' } as object,
  sentence: { borderLeftWidth: border.bar, borderLeftColor: colour.sea, paddingLeft: space.m },
});
