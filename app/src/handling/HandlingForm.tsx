import { type Office } from '@under-lock/contract/office';
import { CLOSING_CHOICES, type Closing, type ClosingKind, latestClosing, resolveClosing, toLocal } from '@under-lock/core/handling/closing';
import { type IdentityCheck, type Right } from '@under-lock/core/handling/handling';
import { momentInWords } from '@under-lock/core/when';
import { Check, Choice, Field, Stack, Text } from '@under-lock/ui';
import { zone } from '../clock';
import { checkWords, closingProblem, closingWords } from './words';

/** The office's calendar in the worker's own time zone. */
export const calendarHere = (office: Office) => ({ ...office.calendar, zone });

export function ClosingForm({ office, now, closing, onChange }: { office: Office; now: Date; closing: Closing; onChange: (closing: Closing) => void }) {
  const calendar = calendarHere(office);
  const options = CLOSING_CHOICES.map((kind) => {
    if (kind === 'exact') return { value: kind, label: closingWords.exact };
    const result = resolveClosing({ kind }, now, calendar);
    return {
      value: kind,
      label: closingWords[kind],
      detail: result.ok ? `closes ${momentInWords(result.closesAt, now, zone)}` : closingProblem(result.problem, result.limit, now, zone),
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
          <Field label="Date" inputType="date" value={date} onChangeText={(next) => onChange({ kind: 'exact', local: `${next || date}T${time}` })} {...({ min: toLocal(now, zone).slice(0, 10), max: toLocal(latestClosing(now, calendar), zone).slice(0, 10) } as object)} />
          <Field label="Time" inputType="time" value={time} onChangeText={(next) => onChange({ kind: 'exact', local: `${date}T${next || time}` })} error={result.ok ? undefined : `${closingProblem(result.problem, result.limit, now, zone)}.`} />
          {result.ok ? <Text kind="small" tone="soft">{`Closes ${momentInWords(result.closesAt, now, zone)}`}</Text> : null}
        </>
      )}
    </Stack>
  );
}

interface Props {
  office: Office;
  now: Date;
  closing: Closing;
  check: IdentityCheck;
  rights: Record<Right, boolean>;
  onChange: (change: { closing?: Closing; check?: IdentityCheck; rights?: { reply: boolean; save: boolean } }) => void;
}

export function HandlingForm({ office, now, closing, check, rights, onChange }: Props) {
  return (
    <Stack>
      <ClosingForm office={office} now={now} closing={closing} onChange={(next) => onChange({ closing: next })} />
      <Choice
        label="Readers prove who they are"
        value={check}
        onChange={(next) => onChange({ check: next })}
        options={[
          { value: 'text', label: checkWords.text, detail: 'Needs their phone number' },
          { value: 'email', label: checkWords.email, detail: 'Needs another address of theirs; weaker, if both mailboxes share a password' },
        ]}
      />
      <Check label="They may reply" detail="The reply stays under lock" value={rights.reply} onChange={(reply) => onChange({ rights: { ...rights, reply } })} />
      <Check label="They may save the files" detail="A saved file is out of your hands" value={rights.save} onChange={(save) => onChange({ rights: { ...rights, save } })} />
    </Stack>
  );
}
