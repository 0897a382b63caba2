import { type Grant, type NewGrant } from '@under-lock/contract/message';
import { type Office } from '@under-lock/contract/office';
import { type Closing, resolveClosing, toLocal } from '@under-lock/core/handling/closing';
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { Banner, Button, Choice, Dialog, Field, Stack, Text } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { zone } from '../clock';
import { calendarHere, ClosingForm } from '../handling/HandlingForm';
import { checkWords } from '../handling/words';
import { personAt, rememberPerson, usePeople } from '../people/person';
import { phoneOf, type PhoneValue } from '../people/phone-value';
import { PhoneInput } from '../people/PhoneInput';
import { addressProblem } from '../people/words';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { openedWords, who } from './grant-words';
import { changePasscodeChannel, giveAccessAgain, moveDate, withdrawFrom } from './message-actions';
import { type Sent } from './useSent';

interface Common { message: Sent; onClose: () => void; onDone: (text: string) => void }

function ActDialog({ title, label, kind = 'main', disabled = false, act, onClose, onDone, children }: { title: string; label: string; kind?: 'main' | 'stop'; disabled?: boolean; act: () => Promise<string>; onClose: () => void; onDone: (text: string) => void; children: ReactNode }) {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const run = async (): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      onDone(await act());
    } catch (problem) {
      setError(problemWords(problem));
      setBusy(false);
    }
  };
  return (
    <Dialog title={title} open onClose={onClose} actions={<><Button kind={kind} label={label} onPress={() => void run()} busy={busy} disabled={disabled} /><Button label="Leave it as it is" onPress={onClose} /></>}>
      {children}
      {error === undefined ? null : <Banner tone="brick">{error}</Banner>}
    </Dialog>
  );
}

export function MoveClosingDialog({ message, grants, office, now, onClose, onDone }: Common & { grants: Grant[]; office: Office; now: Date }) {
  const [closing, setClosing] = useState<Closing>({ kind: 'exact', local: toLocal(grants[0]!.closesAt, zone) });
  const result = resolveClosing(closing, now, calendarHere(office));
  return (
    <ActDialog title="Move the closing date" label="Move the date" disabled={!result.ok} onClose={onClose} onDone={onDone} act={() => moveDate(message, grants, result.ok ? result.closesAt : now, now)}>
      <Text tone="soft">{grants.length === 1 ? `For ${who(grants[0]!)}.` : `For all ${grants.length} who can still read it.`}</Text>
      <ClosingForm office={office} now={now} closing={closing} onChange={setClosing} />
    </ActDialog>
  );
}

export function WithdrawDialog({ message, grants, now, onClose, onDone }: Common & { grants: Grant[]; now: Date }) {
  const opened = grants.filter(({ opened: { count } }) => count > 0);
  return (
    <ActDialog title={grants.length === 1 ? `Withdraw from ${who(grants[0]!)}?` : `Withdraw from all ${grants.length}?`} kind="stop" label="Withdraw" onClose={onClose} onDone={onDone} act={() => withdrawFrom(message, grants)}>
      {opened.length === 0 ? <Text>{grants.length === 1 ? 'They have not opened it.' : 'None of them has opened it.'} After this nobody can, not even we.</Text> : (
        <Stack>
          <Text>{opened.length === grants.length ? 'It has been read already; what was read can’t be taken back:' : `${opened.length} of ${grants.length} have read it already; what was read can’t be taken back:`}</Text>
          {opened.map((grant) => <Text key={grant.id} kind="small">{`● ${who(grant)}, ${openedWords(grant, now)}`}</Text>)}
        </Stack>
      )}
      <Text kind="small" tone="soft">The means to open it are destroyed. You can give access again later, with a new link.</Text>
    </ActDialog>
  );
}

/** Where the passcode goes: asked again, because the server never shows what it has. */
function useChannel(grant: Grant) {
  const { account } = useOpenSession();
  const { data: people = [] } = usePeople();
  const person = personAt(people, grant.address)?.value;
  const [kind, setKind] = useState<IdentityCheck>(grant.check.kind);
  const [phone, setPhone] = useState<PhoneValue | undefined>();
  const [second, setSecond] = useState<string | undefined>();
  const shownPhone = phone ?? phoneOf(person?.phone);
  const shownSecond = second ?? person?.secondAddress ?? '';
  const other = checkAddress(shownSecond);
  const error =
    kind === 'text'
      ? shownPhone.e164 === undefined ? shownPhone.problem : shownPhone.e164 === account.phone ? 'That is your own number.' : undefined
      : !other.ok ? addressProblem[other.problem] : addressKey(other.address) === addressKey(grant.address) ? 'This must be another address than the first.' : undefined;
  const channel: NewGrant['channel'] | undefined = error !== undefined ? undefined : kind === 'text' ? (shownPhone.e164 === undefined ? undefined : { kind, target: shownPhone.e164 }) : other.ok ? { kind, target: other.address } : undefined;
  const touched = kind === 'text' ? shownPhone.typed !== '' : shownSecond !== '';
  const form = (
    <Stack>
      <Choice label="Readers prove who they are" value={kind} onChange={setKind} options={[{ value: 'text', label: checkWords.text }, { value: 'email', label: checkWords.email }]} />
      {kind === 'text' ? (
        <PhoneInput label={`Phone of ${who(grant)}`} value={shownPhone} onChange={setPhone} error={touched ? error : undefined} />
      ) : (
        <Field label={`Second address of ${who(grant)}`} value={shownSecond} onChangeText={setSecond} inputMode="email" autoCapitalize="none" error={touched ? error : undefined} />
      )}
    </Stack>
  );
  const remember = (): Promise<void> =>
    channel === undefined ? Promise.resolve() : rememberPerson(people, { name: grant.name, address: grant.address, ...(channel.kind === 'text' ? { phone: channel.target } : { secondAddress: channel.target }) });
  return { form, channel, remember };
}

export function ChangeChannelDialog({ message, grant, onClose, onDone }: Common & { grant: Grant }) {
  const { form, channel, remember } = useChannel(grant);
  return (
    <ActDialog
      title={`Where ${who(grant)}’s passcode goes`}
      label="Use this from now on"
      disabled={channel === undefined}
      onClose={onClose}
      onDone={onDone}
      act={async () => {
        const said = await changePasscodeChannel(message, grant, channel!);
        await remember();
        return said;
      }}
    >
      <Text tone="soft">{`Now: ${grant.check.hint}. A passcode on its way to the old place stops working.`}</Text>
      {form}
    </ActDialog>
  );
}

export function GiveAgainDialog({ message, grant, office, now, onClose, onDone }: Common & { grant: Grant; office: Office; now: Date }) {
  const { form, channel, remember } = useChannel(grant);
  const [closing, setClosing] = useState<Closing>({ kind: 'two-weeks' });
  const result = resolveClosing(closing, now, calendarHere(office));
  return (
    <ActDialog
      title={`Give ${who(grant)} access again`}
      label="Give access"
      disabled={channel === undefined || !result.ok}
      onClose={onClose}
      onDone={onDone}
      act={async () => {
        const said = await giveAccessAgain(message, grant, channel!, result.ok ? result.closesAt : now);
        await remember();
        return said;
      }}
    >
      <Text tone="soft">The old link stays dead. A new notice with a new link is sent.</Text>
      <ClosingForm office={office} now={now} closing={closing} onChange={setClosing} />
      {form}
    </ActDialog>
  );
}
