import { type Grant } from '@under-lock/contract/message';
import { type Office } from '@under-lock/contract/office';
import { type Closing, resolveClosing, toLocal } from '@under-lock/core/handling/closing';
import { IDENTITY_CHECKS, type IdentityCheck, isIdentityCheck, passwordSuffices } from '@under-lock/core/handling/handling';
import { keepsToClosing } from '@under-lock/core/handling/preset';
import { answerProblem } from '@under-lock/core/identity/answer';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { Banner, Button, Choice, Dialog, Field, Stack, Text } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { zone } from '../clock';
import { calendarHere, ClosingForm } from '../handling/HandlingForm';
import { usePresets } from '../handling/usePresets';
import { checkWords, listed } from '../handling/words';
import { personAt, rememberPerson, usePeople } from '../people/person';
import { phoneOf, type PhoneValue } from '../people/phone-value';
import { PhoneInput } from '../people/PhoneInput';
import { registeredAt, useRegistered } from '../people/useRegistered';
import { addressProblem } from '../people/words';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { openedWords, who } from './grant-words';
import { useColleagues } from '../office/useOffice';
import { type WantedReader } from '../worker/message';
import { changeCheck, giveAccessAgain, moveDate, type WantedCheck, withdrawFrom } from './message-actions';
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
  const preset = usePresets().data?.find(({ id }) => id === message.presetId);
  // As the server will judge it, said before the button is pressed.
  const beyond = preset !== undefined && result.ok && !keepsToClosing(result.closesAt, preset.terms, now, calendarHere(office));
  return (
    <ActDialog title="Move the closing date" label="Move the date" disabled={!result.ok || beyond} onClose={onClose} onDone={onDone} act={() => moveDate(message, grants, result.ok ? result.closesAt : now, now)}>
      <Text tone="soft">{grants.length === 1 ? `For ${who(grants[0]!)}.` : `For all ${grants.length} who can still read it.`}</Text>
      <ClosingForm office={office} now={now} closing={closing} onChange={setClosing} />
      {beyond ? <Banner tone="amber">{`The preset “${preset.name}” closes earlier than that. Choose an earlier date.`}</Banner> : null}
    </ActDialog>
  );
}

/** Who holds an access passed on from these, at any distance. */
function branchesOf(all: readonly Grant[], from: readonly Grant[]): Grant[] {
  const ids = new Set(from.map(({ id }) => id));
  const found: Grant[] = [];
  for (let grown = true; grown; ) {
    const next = all.filter((one) => one.state === 'held' && one.passedOn !== undefined && ids.has(one.passedOn.parentId) && !ids.has(one.id));
    for (const one of next) ids.add(one.id);
    found.push(...next);
    grown = next.length > 0;
  }
  return found;
}

export function WithdrawDialog({ message, grants, now, onClose, onDone }: Common & { grants: Grant[]; now: Date }) {
  const opened = grants.filter(({ opened: { count } }) => count > 0);
  const branches = branchesOf(message.grants, grants);
  return (
    <ActDialog title={grants.length === 1 ? `Withdraw from ${who(grants[0]!)}?` : `Withdraw from all ${grants.length}?`} kind="stop" label="Withdraw" onClose={onClose} onDone={onDone} act={() => withdrawFrom(message, grants)}>
      {opened.length === 0 ? <Text>{grants.length === 1 ? 'They have not opened it.' : 'None of them has opened it.'} After this nobody can.</Text> : (
        <Stack>
          <Text>{opened.length === grants.length ? 'It has been read already; what was read can’t be taken back:' : `${opened.length} of ${grants.length} have read it already; what was read can’t be taken back:`}</Text>
          {opened.map((grant) => <Text key={grant.id} kind="small">{`● ${who(grant)}, ${openedWords(grant, now)}`}</Text>)}
        </Stack>
      )}
      {branches.length === 0 ? null : <Text>{`They passed it on to ${listed(branches.map(who), 'and')}: that ends too.`}</Text>}
      <Text kind="small" tone="soft">From now on our server can’t give out its half of the key. Backups made before still hold it for a while, sealed under a key that is kept apart from them. You can give access again later, with a new link.</Text>
    </ActDialog>
  );
}

/** How somebody is to be known: asked again, because the server never shows what it has. `keptQuestion` when one is asked besides and may stay. */
function useCheck(grant: Grant, keptQuestion: boolean, canAsk = true) {
  const { account } = useOpenSession();
  const { data: people = [] } = usePeople();
  const person = personAt(people, grant.address)?.value;
  const [kind, setKind] = useState<IdentityCheck>(isIdentityCheck(grant.check.kind) && (canAsk || grant.check.kind !== 'question') ? grant.check.kind : 'text');
  const [phone, setPhone] = useState<PhoneValue | undefined>();
  const [second, setSecond] = useState<string | undefined>();
  const [question, setQuestion] = useState({ text: '', answer: '' });
  const shownPhone = phone ?? phoneOf(person?.phone);
  const shownSecond = second ?? person?.secondAddress ?? '';
  const byPhone = kind === 'text' || kind === 'voice';
  const other = checkAddress(shownSecond);
  const phoneError = shownPhone.e164 === undefined ? shownPhone.problem : shownPhone.e164 === account.phone ? 'That is your own number.' : undefined;
  const addressError = !other.ok ? addressProblem[other.problem] : addressKey(other.address) === addressKey(grant.address) ? 'This must be another address than the first.' : undefined;
  const asks = kind === 'question' || grant.check.question;
  const written = question.text.trim() !== '' && answerProblem(question.answer) === undefined;
  const questionSettled = !asks || written || (keptQuestion && kind !== 'question' && question.text === '' && question.answer === '');
  const target = byPhone ? (phoneError === undefined ? shownPhone.e164 : undefined) : kind === 'email' && other.ok && addressError === undefined ? other.address : undefined;
  const wanted: WantedCheck | undefined =
    !questionSettled || (kind !== 'question' && target === undefined) ? undefined : { check: kind, ...(target === undefined ? {} : { target }), ...(written ? { question: { text: question.text.trim(), answer: question.answer } } : {}) };
  const form = (
    <Stack>
      <Choice label="Readers prove who they are" value={kind} onChange={setKind} options={[...IDENTITY_CHECKS].reverse().filter((value) => canAsk || value !== 'question').map((value) => ({ value, label: checkWords[value] }))} />
      {byPhone ? <PhoneInput label={`Phone of ${who(grant)}`} value={shownPhone} onChange={setPhone} error={shownPhone.typed === '' ? undefined : phoneError} /> : null}
      {kind === 'email' ? <Field label={`Second address of ${who(grant)}`} value={shownSecond} onChangeText={setSecond} inputMode="email" autoCapitalize="none" error={shownSecond === '' ? undefined : addressError} /> : null}
      {asks && canAsk ? (
        <>
          <Field label="Question" value={question.text} onChangeText={(text) => setQuestion({ ...question, text })} maxLength={200} hint={keptQuestion && kind !== 'question' ? 'Leave both empty to keep the question they have.' : 'Something only the two of you know.'} />
          <Field label="Answer" value={question.answer} onChangeText={(answer) => setQuestion({ ...question, answer })} maxLength={100} autoComplete="off" error={question.answer !== '' && answerProblem(question.answer) !== undefined ? 'Three letters or digits at least.' : undefined} />
        </>
      ) : null}
    </Stack>
  );
  const remember = (): Promise<void> =>
    target === undefined ? Promise.resolve() : rememberPerson(people, { name: grant.name, address: grant.address, ...(byPhone ? { phone: target } : { secondAddress: target }) });
  return { form, wanted, remember };
}

export function ChangeChannelDialog({ message, grant, onClose, onDone }: Common & { grant: Grant }) {
  // A question is sealed for who holds the link; the link of what a reader passed on was never here.
  const canAsk = message.opened?.links[grant.id] !== undefined;
  const { form, wanted, remember } = useCheck(grant, grant.check.question, canAsk);
  return (
    <ActDialog
      title={`How ${who(grant)} proves who they are`}
      label="Use this from now on"
      disabled={wanted === undefined}
      onClose={onClose}
      onDone={onDone}
      act={async () => {
        const said = await changeCheck(message, grant, wanted!);
        await remember();
        return said;
      }}
    >
      {grant.otherWay === undefined ? null : <Banner tone="amber">{`They asked for another way: “${grant.otherWay.wish}”`}</Banner>}
      <Text tone="soft">{grant.check.hint === '' ? 'Now: a question.' : `Now: ${grant.check.hint}. A passcode on its way to the old place stops working.`}</Text>
      {canAsk ? null : <Text tone="soft">No question can be asked anew: their link is with whoever passed it on. To ask one, withdraw this access and write to them yourself.</Text>}
      {form}
    </ActDialog>
  );
}

export function GiveAgainDialog({ message, grant, office, now, onClose, onDone }: Common & { grant: Grant; office: Office; now: Date }) {
  const { form, wanted, remember } = useCheck(grant, false);
  const { data: colleagues = [] } = useColleagues();
  const colleague = grant.check.kind === 'account' ? colleagues.find((one) => addressKey(one.address) === addressKey(grant.address)) : undefined;
  const [closing, setClosing] = useState<Closing>({ kind: 'two-weeks' });
  const result = resolveClosing(closing, now, calendarHere(office));
  const found = registeredAt(useRegistered([grant.address]).readers, grant.address);
  const registered = found !== undefined && colleague === undefined && passwordSuffices(found.knownBy, message.handling) ? found : undefined;
  const reader = ((): WantedReader | undefined => {
    if (colleague?.key !== undefined) return { kind: 'account', accountId: colleague.id, suite: colleague.key.suite, publicKey: colleague.key.publicKey as Uint8Array<ArrayBuffer> };
    if (registered !== undefined) return { kind: 'registered', readerId: registered.id, language: grant.language, suite: registered.key.suite, publicKey: registered.key.publicKey as Uint8Array<ArrayBuffer> };
    return wanted === undefined ? undefined : { kind: 'link', language: grant.language, ...wanted };
  })();
  const sentence = colleague !== undefined ? 'They find it in Received again.' : registered !== undefined ? 'They find it in their list, sealed to the password they have now, and are told.' : 'The old link stays dead. A new notice with a new link is sent.';
  return (
    <ActDialog
      title={`Give ${who(grant)} access again`}
      label="Give access"
      disabled={reader === undefined || !result.ok}
      onClose={onClose}
      onDone={onDone}
      act={async () => {
        const said = await giveAccessAgain(message, grant, reader!, result.ok ? result.closesAt : now);
        if (reader!.kind === 'link') await remember();
        return said;
      }}
    >
      <Text tone="soft">{sentence}</Text>
      <ClosingForm office={office} now={now} closing={closing} onChange={setClosing} />
      {colleague === undefined && registered === undefined ? form : null}
    </ActDialog>
  );
}
