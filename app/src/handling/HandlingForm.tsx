import { type Office } from '@under-lock/contract/office';
import { latestClosing, resolveClosing, toLocal } from '@under-lock/core/handling/closing';
import { CLOSING_CHOICES, type Closing, type ClosingKind } from '@under-lock/core/handling/closing-choice';
import { IDENTITY_CHECKS, type IdentityCheck, type Rights, RIGHTS } from '@under-lock/core/handling/handling';
import { momentInWords } from '@under-lock/core/when';
import { Check, Choice, Field, Stack, Text } from '@under-lock/ui';
import { View } from 'react-native';
import { zone } from '../clock';
import { capitalised } from '@under-lock/core/first-letter';
import { closingProblem } from '@under-lock/core/handling/closing-words';
import { checkDetails, checkWords, closingWords, rightDetails, rightWords } from './words';

/** The stronger first. */
const CHECKS = [...IDENTITY_CHECKS].reverse();

/** The office's calendar in the worker's own time zone. */
export const calendarHere = (office: Office) => ({ ...office.calendar, zone });

export function ClosingForm({
  office,
  now,
  closing,
  onChange,
}: {
  office: Office;
  now: Date;
  closing: Closing;
  onChange: (closing: Closing) => void;
}) {
  const calendar = calendarHere(office);
  const options = CLOSING_CHOICES.map((kind) => {
    if (kind === 'exact') return { value: kind, label: closingWords.exact };
    const result = resolveClosing({ kind }, now, calendar);
    return {
      value: kind,
      label: closingWords[kind],
      detail: result.ok
        ? `closes ${momentInWords(result.closesAt, now, zone)}`
        : closingProblem(result.problem, result.limit, now, zone),
      disabled: !result.ok,
    };
  });
  const choose = (kind: ClosingKind): void => {
    if (kind !== 'exact') return onChange({ kind });
    const before = resolveClosing(closing, now, calendar);
    return onChange({ kind, local: toLocal(before.ok ? before.closesAt : new Date(now.getTime() + 86_400_000), zone) });
  };
  const result = resolveClosing(closing, now, calendar);
  const [date = '', time = ''] = closing.kind === 'exact' ? closing.local.split('T') : [];
  return (
    <Stack>
      <Choice label="Closes" options={options} value={closing.kind} onChange={choose} />
      {closing.kind !== 'exact' ? null : (
        <>
          <Field
            label="Date"
            inputType="date"
            value={date}
            onChangeText={(next) => onChange({ kind: 'exact', local: `${next || date}T${time}` })}
            min={toLocal(now, zone).slice(0, 10)}
            max={toLocal(latestClosing(now, calendar), zone).slice(0, 10)}
          />
          <Field
            label="Time"
            inputType="time"
            value={time}
            onChangeText={(next) => onChange({ kind: 'exact', local: `${date}T${next || time}` })}
            error={result.ok ? undefined : `${closingProblem(result.problem, result.limit, now, zone)}.`}
          />
          {result.ok ? (
            <Text kind="small" tone="soft">{`Closes ${momentInWords(result.closesAt, now, zone)}`}</Text>
          ) : null}
        </>
      )}
    </Stack>
  );
}

/** How readers prove who they are, and what else is asked. */
export function IdentityForm({
  check,
  question,
  onChange,
}: {
  check: IdentityCheck;
  question: boolean;
  onChange: (change: { check?: IdentityCheck; question?: boolean }) => void;
}) {
  return (
    <Stack>
      <Choice
        label="Readers prove who they are"
        value={check}
        onChange={(next) => onChange({ check: next })}
        options={CHECKS.map((value) => ({ value, label: checkWords[value], detail: checkDetails[value] }))}
      />
      {check === 'question' ? null : (
        <Check
          label="Ask a question besides"
          detail="Two checks together: passcode and answer"
          value={question}
          onChange={(next) => onChange({ question: next })}
        />
      )}
    </Stack>
  );
}

/** What a reader may do. */
interface RightsChange {
  rights?: Rights;
  watermark?: boolean;
  copies?: boolean;
  clear?: boolean;
  textOpen?: boolean;
}

/** `clear` and `textOpen` are left out where they can't be chosen. */
export function RightsForm({
  rights,
  watermark,
  copies,
  clear,
  textOpen,
  onChange,
}: {
  rights: Rights;
  watermark: boolean;
  copies: boolean;
  clear?: boolean;
  textOpen?: boolean;
  onChange: (change: RightsChange) => void;
}) {
  return (
    <View role="group" aria-label="What they may do">
      <Text kind="label" tone="soft">
        They may
      </Text>
      {RIGHTS.map((right) => (
        <Check
          key={right}
          label={capitalised(rightWords[right])}
          detail={rightDetails[right]}
          value={rights[right]}
          onChange={(value) => onChange({ rights: { ...rights, [right]: value } })}
        />
      ))}
      <Check
        label="Watermark"
        detail="Their name and the time over text and files"
        value={watermark}
        onChange={(value) => onChange({ watermark: value })}
      />
      <Check
        label="A copy of their own"
        detail="Whoever has a certificate or an OpenPGP key gets it encrypted into their own mail program. Nobody can close or withdraw it there"
        value={copies}
        onChange={(value) => onChange({ copies: value })}
      />
      {textOpen === undefined ? null : (
        <Check
          label="The text may stay readable beside locked files"
          detail="Then only the files can be locked, and anybody on its way can read the text"
          value={textOpen}
          onChange={(value) => onChange({ textOpen: value })}
        />
      )}
      {clear === undefined ? null : (
        <Check
          label="Nothing in it is secret"
          detail="It leaves as ordinary mail with the worker’s signature. Anybody on its way can read it, and nobody can close or withdraw it"
          value={clear}
          onChange={(value) => onChange({ clear: value })}
        />
      )}
    </View>
  );
}
