/**
 * One line of the book: for whom, for which direction, and at a press the password, those before it, and another in its
 * place.
 */
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, Dialog, Field, Line, Row, space, Stack, StateMark, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { zone } from '../clock';
import { useAttempt } from '../people/useAttempt';
import { type Kept } from '@under-lock/core/vault/kept';
import { keepItem } from '../vault/useVault';
import { type PasswordEntry } from '@under-lock/core/passwords/entry';
import { PasswordForm } from './PasswordForm';
import { ReadOut } from './ReadOut';
import { TheirPassword } from './TheirPassword';
import { withPassword } from '@under-lock/core/passwords/entry';
import { forgetPassword } from './usePasswords';
import { directionWords, strengthWords } from './words';

interface Props {
  entry: Kept<PasswordEntry>;
  who: string;
  leastGuesses: number;
  now: Date;
  last: boolean;
}

export function EntryLine({ entry, who, leastGuesses, now, last }: Props) {
  const { value } = entry;
  const [open, setOpen] = useState(false);
  const [changing, setChanging] = useState(false);
  const [forgetting, setForgetting] = useState(false);
  const [note, setNote] = useState(value.note);
  const { busy, said, attempt } = useAttempt();
  const isOurs = value.direction === 'out';
  const strength = strengthWords(value.guesses, leastGuesses);
  const describe = `the password for ${isOurs ? 'what we send' : 'what comes from'} ${who}`;
  const keep = (next: PasswordEntry): Promise<void> =>
    attempt(async () => void (await keepItem('password', entry.id, entry.revision, next)));
  const change = async (password: string, guesses: number, told: boolean): Promise<void> => {
    await keepItem(
      'password',
      entry.id,
      entry.revision,
      withPassword(
        value,
        {
          address: value.address,
          direction: value.direction,
          password,
          guesses,
          ...(told ? { toldAt: new Date().toISOString() } : {}),
        },
        new Date(),
      ),
    );
    setChanging(false);
  };
  return (
    <Line last={last}>
      <Row style={styles.between}>
        <Text kind="strong" style={styles.wrap}>
          {who}
        </Text>
        {!isOurs ? null : value.toldAt === undefined ? (
          <StateMark tone="wants" word="Not told yet" />
        ) : (
          <StateMark tone="done" word="They know it" />
        )}
      </Row>
      <Text
        kind="small"
        tone="soft"
        style={styles.wrap}
      >{`${who === value.address ? '' : `${value.address} · `}${directionWords[value.direction]}, since ${dayInWords(new Date(value.since), now, zone)}`}</Text>
      {isOurs && strength.tone === 'amber' ? <Text kind="small" tone="amber">{`▲ ${strength.text}`}</Text> : null}
      <Row>
        <Button
          kind="quiet"
          label={open ? 'Hide' : 'Show'}
          describe={`${open ? 'Hide' : 'Show'} ${describe}`}
          expanded={open}
          onPress={() => setOpen(!open)}
        />
      </Row>
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      {open ? (
        <Stack style={styles.open}>
          <Text kind="mono" selectable style={styles.wrap}>
            {value.password}
          </Text>
          {isOurs && value.toldAt === undefined ? (
            <>
              <ReadOut who={who} password={value.password} />
              <Row>
                <Button
                  label="I have told them"
                  describe={`I have told them: ${who} has the password`}
                  busy={busy}
                  onPress={() => void keep({ ...value, toldAt: new Date().toISOString() })}
                />
              </Row>
            </>
          ) : null}
          {value.before.length === 0 ? null : (
            <Stack style={styles.open}>
              <Text kind="label" tone="soft">
                Before
              </Text>
              {value.before.map(({ password, until }) => (
                <Text
                  key={until + password}
                  kind="small"
                  selectable
                  style={styles.wrap}
                >{`${password}  until ${dayInWords(new Date(until), now, zone)}`}</Text>
              ))}
            </Stack>
          )}
          <Field
            label="Note"
            value={note}
            onChangeText={setNote}
            maxLength={500}
            hint="Where it was agreed, for example."
          />
          {changing ? (
            isOurs ? (
              <PasswordForm
                who={who}
                known={[who, value.address]}
                leastGuesses={leastGuesses}
                kind="words"
                telling="phone"
                remember
                onUse={({ password, guesses, telling }) => change(password, guesses, telling === 'agreed')}
                onCancel={() => setChanging(false)}
              />
            ) : (
              <TheirPassword who={who} onKeep={(password, guesses) => change(password, guesses, true)} />
            )
          ) : null}
          <Row>
            {note === value.note ? null : (
              <Button
                label="Keep the note"
                describe={`Keep the note about ${describe}`}
                busy={busy}
                onPress={() => void keep({ ...value, note })}
              />
            )}
            {changing ? null : (
              <Button
                label="Another password"
                describe={`Another password in the place of ${describe}`}
                onPress={() => setChanging(true)}
              />
            )}
            <Button
              kind="stop"
              label="Forget it"
              describe={`Forget it: ${describe}`}
              onPress={() => setForgetting(true)}
            />
          </Row>
        </Stack>
      ) : null}
      <Dialog
        title="Forget this password?"
        open={forgetting}
        onClose={() => setForgetting(false)}
        actions={
          <>
            <Button kind="stop" label="Forget it" onPress={() => void attempt(() => forgetPassword(entry.id))} />
            <Button label="Keep it" onPress={() => setForgetting(false)} />
          </>
        }
      >
        <Text>{`It goes with ${value.before.length === 0 ? 'its history' : 'those before it'}. What ${isOurs ? 'you sent' : `${who} sent`} under it can then be opened only by whoever knows it.`}</Text>
      </Dialog>
    </Line>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  open: { gap: space.s },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
