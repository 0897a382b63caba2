/** What a recipient's line still needs, asked right there: a phone, a second address, a question and its answer. */
import { checksFrom, type IdentityCheck } from '@under-lock/core/handling/handling';
import { checkAddress } from '@under-lock/core/people/address';
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { Button, Choice, Field, Row, space, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { checkWords } from '../../handling/words';
import { noPhone } from '../../phone/phone-value';
import { PhoneInput } from '../../phone/PhoneInput';
import { addressProblem } from '../../people/words';
import { problemWords } from '../../problem-words';
import { type PlanActions } from './plan-actions';
import { TypedField } from './TypedField';

export function PhoneSettle({ who, keep }: { who: string; keep: (phone: string) => Promise<void> }) {
  const [phone, setPhone] = useState(noPhone);
  const [error, setError] = useState<string | undefined>();
  const submit = (): void => {
    if (phone.e164 === undefined) return setError(phone.problem);
    keep(phone.e164).then(
      () => setError(undefined),
      (cause: unknown) => setError(problemWords(cause)),
    );
    return undefined;
  };
  return (
    <>
      <PhoneInput
        label="Phone"
        describe={`Phone of ${who}`}
        value={phone}
        onChange={setPhone}
        error={error}
        onSubmit={submit}
      />
      <Row>
        <Button label="Keep the number" onPress={submit} />
      </Row>
    </>
  );
}

function AddressSettle({ who, keep }: { who: string; keep: (address: string) => Promise<void> }) {
  const [second, setSecond] = useState('');
  const [error, setError] = useState<string | undefined>();
  const submit = (): void => {
    const checked = checkAddress(second);
    if (!checked.ok) return setError(addressProblem[checked.problem]);
    keep(checked.address).then(
      () => setError(undefined),
      (cause: unknown) => setError(problemWords(cause)),
    );
    return undefined;
  };
  return (
    <>
      <Field
        label="Second address"
        describe={`Second address of ${who}`}
        value={second}
        onChangeText={setSecond}
        inputMode="email"
        autoCapitalize="none"
        error={error}
        onSubmitEditing={submit}
      />
      <Row>
        <Button label="Keep the address" onPress={submit} />
      </Row>
    </>
  );
}

/** Made at once, and told by the worker: before sending, or from the message's own page. */
function ToldSettle({ told, who, onMake }: { told: string | undefined; who: string; onMake: () => void }) {
  return (
    <>
      {told === undefined ? null : (
        <>
          <Text kind="mono" selectable>
            {told}
          </Text>
          <Text kind="small" tone="soft">
            Tell it to them by phone or in person, never by mail. It opens the message once; until then you find it on
            the message’s page.
          </Text>
        </>
      )}
      <Row>
        <Button
          kind="quiet"
          label={told === undefined ? 'Make it' : 'Make another'}
          describe={`${told === undefined ? 'Make' : 'Make another'} one-time password for ${who}`}
          onPress={onMake}
        />
      </Row>
    </>
  );
}

interface SettleProps {
  line: PlanLine;
  actions: PlanActions;
  /** Something is being typed that settles the line before it is finished. */
  onWriting: () => void;
}

export const asks = ({ chosen: { check } }: PlanLine): boolean => check !== undefined && check.kind !== 'account';

/** How they prove who they are, of the ways this handling allows. */
export function CheckChoice({
  line,
  leastCheck,
  actions,
}: Omit<SettleProps, 'onWriting'> & { leastCheck: IdentityCheck }) {
  const { recipient, chosen } = line;
  const { check } = chosen;
  const checks = checksFrom(leastCheck).reverse();
  if (check === undefined || !asks(line) || (checks.length < 2 && check.orPassword !== true)) return null;
  return (
    <Choice
      label={`How ${recipient.name || recipient.address} proves who they are`}
      value={check.kind}
      onChange={(kind) => actions.setCheck(recipient.address, kind as IdentityCheck | 'password')}
      options={[...(check.orPassword === true ? (['password'] as const) : []), ...checks].map((value) => ({
        value,
        label: checkWords[value],
      }))}
    />
  );
}

/** What that way needs to be known: a number, an address, a question and its answer. */
export function CheckFields({ line, actions, onWriting }: SettleProps) {
  const { recipient, chosen } = line;
  const { address, name, question = '', answer = '' } = recipient;
  const who = name || address;
  const { check } = chosen;
  if (check === undefined || !asks(line)) return null;
  const ask = (change: { question?: string; answer?: string }): void => {
    onWriting();
    actions.setQuestion(address, change);
  };
  return (
    <Stack style={styles.settle}>
      {check.kind === 'text' || check.kind === 'voice' ? (
        <PhoneSettle key="phone" who={who} keep={(phone) => actions.setPhone(address, phone)} />
      ) : null}
      {check.kind === 'told' ? (
        <ToldSettle told={recipient.told} who={who} onMake={() => actions.setCheck(address, 'told')} />
      ) : null}
      {check.kind === 'email' ? (
        <AddressSettle key="address" who={who} keep={(second) => actions.setSecondAddress(address, second)} />
      ) : null}
      {check.question ? (
        <>
          <TypedField
            label="Question"
            describe={`Question for ${who}`}
            value={question}
            onChangeText={(next) => ask({ question: next })}
            maxLength={200}
            hint="Something only the two of you know. They see the question; your answer is shown to nobody."
          />
          <TypedField
            label="Answer"
            describe={`Answer of ${who}`}
            value={answer}
            onChangeText={(next) => ask({ answer: next })}
            maxLength={100}
            autoComplete="off"
            hint="Capitals, spaces and accents don’t count."
          />
        </>
      ) : null}
    </Stack>
  );
}

const styles = StyleSheet.create({ settle: { gap: space.s } });
