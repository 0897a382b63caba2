/** What can be changed or settled for one recipient: their lock, their password, how they prove who they are. */
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { type LockName, type Missing } from '@under-lock/core/locks/index';
import { missingSentence } from '@under-lock/core/outgoing/missing-words';
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { Button, Choice, Row, space, Stack, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { FileSettle } from './FileSettle';
import { type PlanActions } from './plan-actions';
import { lockLabel, lockWords } from '../../locks/lock-words';
import { choiceWords, wishSentences } from '../../handling/choice-words';
import { firstLower } from '@under-lock/core/first-letter';
import { reasonWords } from './plan-words';
import { asks, CheckChoice, CheckFields } from './Settle';

/** What no phone, address or answer would settle: somebody has to go, or the handling has to be another one. */
const barred: ReadonlySet<Missing['code']> = new Set([
  'staff-only',
  'outsiders-only',
  'nobody-allowed',
  'colleague-not-ready',
  'colleague-key-changed',
]);

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

/** What is the same for every line. */
export interface ForAll {
  leastCheck: IdentityCheck;
  actions: PlanActions;
}

export interface DetailsProps extends ForAll {
  line: PlanLine;
  /** The one their locked file opens with, when there is one. */
  password: string | undefined;
}

/** Outside of what is drawn only when something of it changed: another password is such a change. */
export const detailsOf = (line: PlanLine, forAll: ForAll): DetailsProps => ({
  ...forAll,
  line,
  password: line.chosen.lock === 'file' ? forAll.actions.passwordOf(line.recipient.address) : undefined,
});

/** What bars them outright has no field to fill in. */
function Barred({ line: { recipient, chosen }, actions }: DetailsProps) {
  const who = recipient.name || recipient.address;
  return (
    <Row>
      {chosen.missing.some(({ code }) => code === 'colleague-key-changed') ? (
        <Button
          label="I asked them: take the new key"
          describe={`I asked them: take the new key of ${who}`}
          onPress={() => void actions.takeNewKey(recipient.address)}
        />
      ) : null}
      <Button label="Leave out" describe={`Leave out ${who}`} onPress={() => actions.remove(recipient.address)} />
    </Row>
  );
}

/** What alone keeps a copy from going along with the mail, where that is so. */
const overGateway = ({ alternatives }: PlanLine): Missing | undefined =>
  alternatives.find(({ missing }) => missing.length === 1 && missing[0]!.code === 'file-too-large')?.missing[0];

function Locks({ line, actions }: DetailsProps) {
  const { recipient, chosen, alternatives, wish } = line;
  const over = overGateway(line);
  const who = recipient.name || recipient.address;
  const locks = (Object.keys(lockWords) as LockName[]).filter((lock) =>
    [chosen, ...alternatives].some((one) => one.lock === lock && one.available),
  );
  return (
    <>
      {locks.length < 2 ? null : (
        <Choice
          row
          label={`Lock for ${who}`}
          value={chosen.lock}
          onChange={(lock) => actions.setLock(recipient.address, lock)}
          options={locks.map((value) => ({ value, label: lockLabel(value, chosen.clear === true) }))}
        />
      )}
      <Text kind="small" tone="soft">{`${chosen.reasons.map(({ code }) => reasonWords[code]).join('; ')}.`}</Text>
      {wish === undefined ? null : (
        <Text kind="small" tone="soft">
          {wishSentences[wish](firstLower(choiceWords[recipient.chose!.lock]))}
        </Text>
      )}
      {over === undefined ? null : (
        <Text kind="small" tone="soft">
          {`${missingSentence(over)}: nothing larger goes along with a mail to them.`}
        </Text>
      )}
      {chosen.lock === 'file' && locks.includes('carried') ? (
        <Carry who={who} onChoose={() => actions.setLock(recipient.address, 'carried')} />
      ) : null}
    </>
  );
}

/** There is something to read out to them. */
const tells = ({ chosen: { check } }: PlanLine): boolean => check?.kind === 'told';

/** Changed by a press where nothing is missing, asked at once where something is. */
function Proof({ line, leastCheck, actions }: DetailsProps) {
  const [changing, setChanging] = useState(false);
  const { recipient, chosen } = line;
  const stopped = chosen.missing.length > 0;
  return (
    <>
      {changing || stopped ? <CheckChoice line={line} leastCheck={leastCheck} actions={actions} /> : null}
      {changing || stopped || tells(line) ? (
        <CheckFields key={line.chosen.check!.kind} line={line} actions={actions} onWriting={() => setChanging(true)} />
      ) : null}
      {stopped ? null : (
        <TextButton
          label={changing ? 'Done' : 'Change'}
          describe={`${changing ? 'Done changing' : 'Change'} how ${recipient.name || recipient.address} proves who they are`}
          onPress={() => setChanging(!changing)}
        />
      )}
    </>
  );
}

const isBarred = ({ chosen: { missing } }: PlanLine): boolean => missing.some(({ code }) => barred.has(code));

/** Behind a recipient’s line. */
export function RecipientDetails(props: DetailsProps) {
  const { line, actions, password } = props;
  const { recipient, chosen } = line;
  return (
    <Stack style={styles.details}>
      <Locks {...props} />
      {chosen.lock === 'file' && chosen.clear !== true ? (
        <FileSettle line={line} actions={actions} password={password} />
      ) : null}
      {wantsMeans(line) ? actions.askSigned(recipient.address) : null}
      {isBarred(line) ? <Barred {...props} /> : asks(line) ? <Proof {...props} /> : null}
    </Stack>
  );
}

/** What is missing for a recipient, to be filled in; another way behind a press. */
export function SettleRecipient(props: DetailsProps) {
  const { line, leastCheck, actions, password } = props;
  const [otherWay, setOtherWay] = useState(false);
  const [writing, setWriting] = useState(false);
  const { recipient, chosen } = line;
  const { address } = recipient;
  const who = recipient.name || address;
  const settled = chosen.missing.length === 0;
  if (isBarred(line)) return <Barred {...props} />;
  return (
    <Stack style={styles.details}>
      {chosen.lock === 'file' && chosen.clear !== true ? (
        <FileSettle line={line} actions={actions} password={password} />
      ) : null}
      {asks(line) && (!settled || writing || tells(line)) ? (
        <CheckFields key={chosen.check!.kind} line={line} actions={actions} onWriting={() => setWriting(true)} />
      ) : null}
      <TextButton
        label={otherWay ? 'Leave it this way' : 'Another way'}
        describe={`${otherWay ? 'Leave it this way' : 'Another way'} for ${who}`}
        onPress={() => setOtherWay(!otherWay)}
      />
      {otherWay ? (
        <>
          <Locks {...props} />
          <CheckChoice line={line} leastCheck={leastCheck} actions={actions} />
          {wantsMeans(line) ? actions.askSigned(address) : null}
        </>
      ) : null}
    </Stack>
  );
}

const styles = StyleSheet.create({ details: { gap: space.s } });
