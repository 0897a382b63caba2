/** A locked file's line in the plan: its password made or typed right there, what to read out, and what is locked. */
import { SCOPES } from '@under-lock/core/ways/file-way';
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { Choice, Row, space, Stack, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { PasswordForm } from '../../passwords/PasswordForm';
import { ReadOut } from '../../passwords/ReadOut';
import { scopeDetails, scopeWords, waySentence } from '../../passwords/words';
import { type PlanActions } from './plan-actions';
import { PhoneSettle } from './Settle';

export function FileSettle({
  line: { recipient, chosen },
  actions,
  password,
}: {
  line: PlanLine;
  actions: PlanActions;
  password: string | undefined;
}) {
  const [choosing, setChoosing] = useState(false);
  const [reading, setReading] = useState(false);
  const { address, name, file } = recipient;
  if (file === undefined) return null;
  const who = name || address;
  const { way } = file;
  const isMissing = (...codes: string[]): boolean => chosen.missing.some(({ code }) => codes.includes(code));
  const isWanting = isMissing('password-missing', 'password-weak', 'password-not-agreed');
  const wants = choosing || isWanting;
  return (
    <Stack style={styles.settle}>
      <Text kind="small">{`${waySentence(way)}.`}</Text>
      <Choice
        row
        label={`What is locked for ${who}`}
        value={way.scope}
        onChange={(scope) => actions.setScope(address, scope)}
        options={SCOPES.map((value) => ({ value, label: scopeWords[value] }))}
      />
      {way.scope === 'files' ? <Text kind="small" tone="soft">{`${scopeDetails.files}.`}</Text> : null}
      {wants ? (
        <PasswordForm
          who={who}
          known={[name, address]}
          leastGuesses={actions.leastGuesses}
          kind={way.passwords}
          telling={way.telling}
          remember={way.remember}
          agreedOnly={file.agreedOnly === true}
          onUse={async (used) => {
            await actions.usePassword(address, used);
            setChoosing(false);
          }}
          onCancel={isWanting ? undefined : () => setChoosing(false)}
        />
      ) : (
        <Row>
          {password === undefined ? null : (
            <TextButton
              label={reading ? 'Hide the script' : 'Read it out'}
              describe={`${reading ? 'Hide the script' : 'Read it out'}: the password for ${who}`}
              onPress={() => setReading(!reading)}
            />
          )}
          <TextButton
            label="Another password"
            describe={`Another password for ${who}`}
            onPress={() => setChoosing(true)}
          />
        </Row>
      )}
      {reading && !wants && password !== undefined ? <ReadOut who={who} password={password} /> : null}
      {isMissing('phone-missing') && !wants ? (
        <PhoneSettle who={who} keep={(phone) => actions.setPhone(address, phone)} />
      ) : null}
    </Stack>
  );
}

const styles = StyleSheet.create({ settle: { paddingTop: space.s, gap: space.s } });
