/** Passing on, where the sender allows it: one more person at a time, and who it was passed on to. */
import { isProblem, type ProblemCode } from '@under-lock/contract/problem';
import { checksFrom, type Handling } from '@under-lock/core/handling/handling';
import { answerProblem } from '@under-lock/core/identity/answer';
import { checkAddress } from '@under-lock/core/people/address';
import { momentInWords } from '@under-lock/core/when';
import { Banner, Button, Choice, Field, Line, Panel, Result, Row, Section, Stack, Text } from '@under-lock/ui';
import { useCallback, useEffect, useState } from 'react';
import { type PassOnCheck, type Forwarded, type WritingDoor } from './replies';
import { language, words } from './words/words';
import { zone } from './zone';

interface Props {
  door: WritingDoor;
  handling: Handling;
  now: Date;
  onProblem: (error: unknown) => void;
}

export function ForwardPanel({ door, handling, now, onProblem }: Props) {
  const [open, setOpen] = useState(false);
  const [done, setDone] = useState<string | undefined>();
  const [forwards, setForwards] = useState<Forwarded[]>([]);
  const load = useCallback(
    () =>
      door
        .listForwards()
        .then(setForwards, (error: unknown) =>
          isProblem(error, 'unreachable', 'server-error') ? undefined : onProblem(error),
        ),
    [door, onProblem],
  );
  useEffect(() => void load(), [load]);
  return (
    <Stack>
      {forwards.length === 0 ? null : (
        <Section title={words.passedOnTo} aside={String(forwards.length)}>
          <Panel>
            {forwards.map((one, index) => (
              <Line key={`${one.address}${index}`} last={index === forwards.length - 1}>
                <Text kind="strong">{one.name || one.address}</Text>
                <Text
                  kind="small"
                  tone="soft"
                >{`${one.address} · ${momentInWords(one.at, now, zone, language)}${one.state === 'held' ? '' : ` · ${words.stateOver}`}`}</Text>
              </Line>
            ))}
          </Panel>
        </Section>
      )}
      {done === undefined || open ? null : <Banner tone="sea">{words.passOnDone(done)}</Banner>}
      {open ? (
        <ForwardForm
          door={door}
          handling={handling}
          now={now}
          onCancel={() => setOpen(false)}
          onDone={(name) => {
            setOpen(false);
            setDone(name);
            void load();
          }}
          onProblem={onProblem}
        />
      ) : (
        <Row>
          <Button label={words.passOn} onPress={() => setOpen(true)} />
        </Row>
      )}
    </Stack>
  );
}

const refusalWords = (code: ProblemCode): string | undefined =>
  (
    ({
      'reads-already': words.readsAlready,
      'own-number': words.ownNumber,
      'below-preset': words.strongerCheck,
      'invalid-input': words.notTaken,
      audience: words.refused,
      'breaks-rule': words.notToThem,
      'right-not-given': words.refused,
    }) as Partial<Record<ProblemCode, string>>
  )[code];

interface Fields {
  name: string;
  address: string;
  target: string;
  question: string;
  answer: string;
}
type Errors = Partial<Record<keyof Fields | 'all', string>>;

interface Asking {
  check: PassOnCheck;
  /** A question besides, or alone. */
  asks: boolean;
}

/** As it is handed over, and what is wrong in which field. */
function readFields(fields: Fields, { check, asks }: Asking) {
  const address = checkAddress(fields.address);
  const second = check === 'email' ? checkAddress(fields.target) : undefined;
  const phone = fields.target.replace(/[\s()./-]/g, '');
  const isPhoneWrong = (check === 'text' || check === 'voice') && !/^\+[1-9]\d{6,14}$/.test(phone);
  const errors: Errors = {
    ...(address.ok ? {} : { address: words.addressNotRight }),
    ...(check === 'email' && second?.ok !== true ? { target: words.addressNotRight } : {}),
    ...(isPhoneWrong ? { target: words.phoneNotRight } : {}),
    ...(asks && fields.question.trim() === '' ? { question: words.questionMissing } : {}),
    ...(asks && answerProblem(fields.answer) !== undefined ? { answer: words.answerTooShort } : {}),
  };
  return {
    errors,
    passedOn: {
      address: address.ok ? address.address : '',
      name: fields.name.replace(/\s+/g, ' ').trim(),
      check,
      target: second?.ok === true ? second.address : phone,
    },
    question: asks ? { text: fields.question.trim(), answer: fields.answer } : undefined,
  };
}

interface FormProps extends Props {
  onCancel: () => void;
  onDone: (name: string) => void;
}

function useForwarding({ door, handling, onDone, onProblem }: FormProps) {
  const [check, setCheck] = useState<PassOnCheck>(handling.check === 'told' ? 'email' : handling.check);
  const [fields, setFields] = useState<Fields>({ name: '', address: '', target: '', question: '', answer: '' });
  const [errors, setErrors] = useState<Errors>({});
  const [busy, setBusy] = useState(false);
  const set = (change: Partial<Fields>): void => setFields((before) => ({ ...before, ...change }));
  const asks = check === 'question' || handling.question;
  const choose = (next: PassOnCheck): void => {
    setCheck(next);
    set({ target: '' });
    setErrors({});
  };
  const send = async (): Promise<void> => {
    const { errors: found, passedOn, question } = readFields(fields, { check, asks });
    setErrors(found);
    if (Object.keys(found).length > 0) return;
    setBusy(true);
    try {
      await door.passOn(passedOn, question);
      onDone(fields.name.trim() || passedOn.address);
    } catch (problem) {
      setBusy(false);
      if (isProblem(problem, 'grant-closed', 'grant-withdrawn', 'not-identified')) onProblem(problem);
      else setErrors({ all: (isProblem(problem) ? refusalWords(problem.code) : undefined) ?? words.passOnFailed });
    }
  };
  return { check, choose, fields, set, errors, busy, asks, send };
}

interface FieldsProps {
  fields: Fields;
  set: (change: Partial<Fields>) => void;
  errors: Errors;
}

/** Where the passcode goes. */
function Target({ check, fields, set, errors }: FieldsProps & { check: PassOnCheck }) {
  if (check === 'question') return null;
  return check === 'email' ? (
    <Field
      label={words.passOnSecond}
      value={fields.target}
      onChangeText={(target) => set({ target })}
      inputMode="email"
      autoCapitalize="none"
      autoComplete="off"
      error={errors.target}
    />
  ) : (
    <Field
      label={words.passOnPhone}
      value={fields.target}
      onChangeText={(target) => set({ target })}
      inputMode="tel"
      autoComplete="off"
      code
      hint={words.passOnPhoneHint}
      error={errors.target}
    />
  );
}

const QuestionFields = ({ fields, set, errors }: FieldsProps) => (
  <>
    <Field
      label={words.passOnQuestion}
      value={fields.question}
      onChangeText={(question) => set({ question })}
      maxLength={200}
      error={errors.question}
    />
    <Field
      label={words.passOnAnswer}
      value={fields.answer}
      onChangeText={(answer) => set({ answer })}
      maxLength={100}
      autoComplete="off"
      hint={words.answerHint}
      error={errors.answer}
    />
  </>
);

function ForwardForm(props: FormProps) {
  const { handling, onCancel } = props;
  const checks = checksFrom(handling.check)
    .filter((one): one is PassOnCheck => one !== 'told')
    .reverse();
  const { check, choose, asks, busy, send, ...typed } = useForwarding(props);
  const { fields, set, errors } = typed;
  return (
    <Section title={words.passOnTitle}>
      <Stack>
        <Text kind="small" tone="soft">
          {words.passOnHint(momentInWords(handling.closesAt, props.now, zone, language))}
        </Text>
        <Field
          label={words.passOnName}
          value={fields.name}
          onChangeText={(name) => set({ name })}
          maxLength={200}
          autoComplete="off"
          autoFocus
        />
        <Field
          label={words.passOnAddress}
          value={fields.address}
          onChangeText={(address) => set({ address })}
          inputMode="email"
          autoCapitalize="none"
          autoComplete="off"
          error={errors.address}
        />
        {checks.length < 2 ? null : (
          <Choice
            label={words.passOnCheck}
            value={check}
            onChange={choose}
            options={checks.map((value) => ({ value, label: words.checks[value] }))}
          />
        )}
        <Target check={check} {...typed} />
        {asks ? <QuestionFields {...typed} /> : null}
        <Result said={errors.all} />
        <Row>
          <Button kind="main" label={words.passOnSend} onPress={() => void send()} busy={busy} />
          <Button kind="quiet" label={words.cancel} onPress={onCancel} disabled={busy} />
        </Row>
      </Stack>
    </Section>
  );
}
