/** How somebody is to be known: asked again, because the server never shows what it has. */
import { makeTold } from '@under-lock/core/identity/told';
import { Banner, Choice, Field, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { checkWords } from '../handling/words';
import { who } from '../handling/grant-words';
import { rememberPerson, usePeople } from '../people/person';
import { PhoneInput } from '../phone/PhoneInput';
import { useOpenSession } from '../session/session';
import { type About, type Asked, howKnown, type HowKnown, type Typed } from './how-known';

interface FormProps {
  about: About;
  known: HowKnown;
  typed: Typed;
  onChange: (change: Partial<Typed>) => void;
}

function QuestionForm({ known, typed: { question }, onChange }: FormProps) {
  return (
    <>
      <Field
        label="Question"
        value={question.text}
        onChangeText={(text) => onChange({ question: { ...question, text } })}
        maxLength={200}
        hint={
          known.staysAsItIs ? 'Leave both empty to keep the question they have.' : 'Something only the two of you know.'
        }
      />
      <Field
        label="Answer"
        value={question.answer}
        onChangeText={(answer) => onChange({ question: { ...question, answer } })}
        maxLength={100}
        autoComplete="off"
        error={known.answerError}
      />
    </>
  );
}

function HowKnownForm(props: FormProps) {
  const { about, known, onChange } = props;
  const { kind, offered, byPhone, phone, phoneError, second, secondError, owner, asks } = known;
  return (
    <Stack>
      <Choice
        label="Readers prove who they are"
        value={kind}
        onChange={(chosen) => onChange({ kind: chosen })}
        options={[...offered].reverse().map((value) => ({ value, label: checkWords[value] }))}
      />
      {byPhone ? (
        <PhoneInput
          label={`Phone of ${who(about)}`}
          value={phone}
          onChange={(next) => onChange({ phone: next })}
          error={phone.typed === '' ? undefined : phoneError}
        />
      ) : null}
      {kind === 'email' ? (
        <Field
          label={`Second address of ${who(about)}`}
          value={second}
          onChangeText={(next) => onChange({ second: next })}
          inputMode="email"
          autoCapitalize="none"
          error={second === '' ? undefined : secondError}
        />
      ) : null}
      {kind === 'told' ? (
        <Text kind="small" tone="soft">
          A new one-time password is made. You tell it to them by phone or in person; it opens the message once.
        </Text>
      ) : null}
      {owner === undefined ? null : (
        <Banner tone="amber">{`This is known as ${owner.name || owner.address}’s. Whoever has it gets the passcode; it is used for this message only, and not kept for ${who(about)}.`}</Banner>
      )}
      {asks ? <QuestionForm {...props} /> : null}
    </Stack>
  );
}

export function useHowKnown(asked: Asked) {
  const { about } = asked;
  const { account } = useOpenSession();
  const { data: people = [] } = usePeople();
  const [typed, setTyped] = useState<Typed>(() => ({
    kind: undefined,
    phone: undefined,
    second: undefined,
    question: { text: '', answer: '' },
    told: makeTold(),
  }));
  const known = howKnown(asked, typed, { people, ownPhone: account.phone });
  const { byPhone, target, owner, wanted } = known;
  const remember = (): Promise<void> =>
    target === undefined || owner !== undefined
      ? Promise.resolve()
      : rememberPerson(people, {
          name: about.name,
          address: about.address,
          ...(byPhone ? { phone: target } : { secondAddress: target }),
        });
  const form = (
    <HowKnownForm
      about={about}
      known={known}
      typed={typed}
      onChange={(change) => setTyped((before) => ({ ...before, ...change }))}
    />
  );
  return { form, wanted, remember };
}
