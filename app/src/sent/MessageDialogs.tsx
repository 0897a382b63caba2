import { firstLower } from '@under-lock/core/first-letter';
import { makeTold } from '@under-lock/core/identity/told';
import { defined } from '@under-lock/core/defined';
import { type Grant } from '@under-lock/contract/outgoing';
import { type Office } from '@under-lock/contract/office';
import { resolveClosing, toLocal } from '@under-lock/core/handling/closing';
import { type Closing } from '@under-lock/core/handling/closing-choice';
import {
  type HandlingTerms,
  checksFrom,
  type IdentityCheck,
  isIdentityCheck,
  LOOSEST_TERMS,
  mergeTerms,
  passwordSuffices,
  type WayKnown,
  isPasscodeWay,
} from '@under-lock/core/handling/handling';
import { keepsToClosing, presetFloor } from '@under-lock/core/handling/preset';
import { answerProblem } from '@under-lock/core/identity/answer';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { type Language } from '@under-lock/core/language';
import { OnEnter, Banner, Button, Choice, Dialog, Field, Stack, Text } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { zone } from '../clock';
import { calendarHere, ClosingForm } from '../handling/HandlingForm';
import { checkWords, listed } from '../handling/words';
import { isChanged } from '@under-lock/core/account/known-keys';
import { useKnownKeys } from '../people/known-keys';
import { type Person } from '@under-lock/core/people/kept-person';
import { rememberPerson, usePeople } from '../people/person';
import { phoneOf, type PhoneValue } from '../phone/phone-value';
import { PhoneInput } from '../phone/PhoneInput';
import { useRegistered } from '../people/useRegistered';
import { accountAt, oneAt, personAt } from '@under-lock/core/people/find';
import { addressProblem } from '../people/words';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { type Kept } from '@under-lock/core/vault/kept';
import { openedWords, who } from '../handling/grant-words';
import { useColleagues } from '../session/useOffice';
import { type WantedReader } from '@under-lock/core/locks/wanted';
import { changeCheck, giveAccessAgain, letRead, moveDate, type WantedCheck, withdrawFrom } from './message-actions';
import { type Sent } from './useSent';

interface Common {
  message: Sent;
  onClose: () => void;
  onDone: (text: string) => void;
}

function ActDialog({
  title,
  label,
  kind = 'main',
  disabled = false,
  act,
  onClose,
  onDone,
  children,
}: {
  title: string;
  label: string;
  kind?: 'main' | 'stop';
  disabled?: boolean;
  act: () => Promise<string>;
  onClose: () => void;
  onDone: (text: string) => void;
  children: ReactNode;
}) {
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
    <Dialog
      title={title}
      open
      onClose={onClose}
      actions={
        <>
          <Button kind={kind} label={label} onPress={() => void run()} busy={busy} disabled={disabled} />
          <Button label="Leave it as it is" onPress={onClose} />
        </>
      }
    >
      <OnEnter does={busy || disabled || kind === 'stop' ? undefined : () => void run()}>{children}</OnEnter>
      {error === undefined ? null : <Banner tone="brick">{error}</Banner>}
    </Dialog>
  );
}

export function MoveClosingDialog({
  message,
  grants,
  office,
  now,
  onClose,
  onDone,
}: Common & { grants: Grant[]; office: Office; now: Date }) {
  const [closing, setClosing] = useState<Closing>({ kind: 'exact', local: toLocal(grants[0]!.closesAt, zone) });
  const result = resolveClosing(closing, now, calendarHere(office));
  const { presetTerms } = message;
  // As the server will judge it, said before the button is pressed.
  const beyond =
    presetTerms !== undefined && result.ok && !keepsToClosing(result.closesAt, presetTerms, now, calendarHere(office));
  return (
    <ActDialog
      title="Move the closing date"
      label="Move the date"
      disabled={!result.ok || beyond}
      onClose={onClose}
      onDone={onDone}
      act={() => moveDate(message, grants, result.ok ? result.closesAt : now, now)}
    >
      <Text tone="soft">
        {grants.length === 1 ? `For ${who(grants[0]!)}.` : `For all ${grants.length} who can still read it.`}
      </Text>
      <ClosingForm office={office} now={now} closing={closing} onChange={setClosing} />
      {beyond ? (
        <Banner tone="amber">{`The preset “${message.presetName}” closes earlier than that. Choose an earlier date.`}</Banner>
      ) : null}
    </ActDialog>
  );
}

/** Who holds an access passed on from these, at any distance. */
function branchesOf(all: readonly Grant[], from: readonly Grant[]): Grant[] {
  const ids = new Set(from.map(({ id }) => id));
  const found: Grant[] = [];
  for (let grown = true; grown;) {
    const next = all.filter(
      (one) => one.state === 'held' && one.passedOn !== undefined && ids.has(one.passedOn.parentId) && !ids.has(one.id),
    );
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
    <ActDialog
      title={grants.length === 1 ? `Withdraw from ${who(grants[0]!)}?` : `Withdraw from all ${grants.length}?`}
      kind="stop"
      label="Withdraw"
      onClose={onClose}
      onDone={onDone}
      act={() => withdrawFrom(message, grants)}
    >
      {opened.length === 0 ? (
        <Text>
          {grants.length === 1 ? 'They have not opened it.' : 'None of them has opened it.'} After this nobody can.
        </Text>
      ) : (
        <Stack>
          <Text>
            {opened.length === grants.length
              ? 'It has been read already; what was read can’t be taken back:'
              : `${opened.length} of ${grants.length} have read it already; what was read can’t be taken back:`}
          </Text>
          {opened.map((grant) => (
            <Text key={grant.id} kind="small">{`● ${who(grant)}, ${openedWords(grant, now)}`}</Text>
          ))}
        </Stack>
      )}
      {branches.length === 0 ? null : (
        <Text>{`They passed it on to ${listed(branches.map(who), 'and')}: that ends too.`}</Text>
      )}
      <Text kind="small" tone="soft">
        From now on our server can’t give out its half of the key. Backups made before still hold it for a while, sealed
        under a key that is kept apart from them. You can give access again later, with a new link.
      </Text>
    </ActDialog>
  );
}

/** Whom it is about, and how they were to be known so far. */
interface About {
  name: string;
  address: string;
  check: { kind: WayKnown; question: boolean };
}

/** The weakest check the message's preset lets anybody have; what its own handling asks besides, where that counts. */
const leastFor = (
  { presetTerms }: Sent,
  own: HandlingTerms = LOOSEST_TERMS,
): Pick<HandlingTerms, 'check' | 'question'> =>
  mergeTerms(presetTerms === undefined ? LOOSEST_TERMS : presetFloor(presetTerms), own);

/** Somebody else for whom this number or address is known. */
function ownerOf(people: readonly Kept<Person>[], about: About, target: string | undefined): Person | undefined {
  if (target === undefined) return undefined;
  const known = ({ phone, address, secondAddress }: Person): boolean =>
    phone === target || [address, secondAddress ?? ''].some((one) => addressKey(one) === addressKey(target));
  return people.find(({ value }) => addressKey(value.address) !== addressKey(about.address) && known(value))?.value;
}

interface Asked {
  about: About;
  least: Pick<HandlingTerms, 'check' | 'question'>;
  /** One is asked besides already, and may stay. */ keptQuestion: boolean;
  canAsk?: boolean;
}

/** How somebody is to be known: asked again, because the server never shows what it has. */
function useCheck({ about, least, keptQuestion, canAsk = true }: Asked) {
  const { account } = useOpenSession();
  const { data: people = [] } = usePeople();
  const person = personAt(people, about.address)?.value;
  const offered = checksFrom(least.check).filter((value) => canAsk || (value !== 'question' && value !== 'told'));
  const [chosen, setKind] = useState<IdentityCheck>(isIdentityCheck(about.check.kind) ? about.check.kind : 'text');
  const kind = offered.includes(chosen) ? chosen : (offered.find((one) => one === 'text') ?? offered[0] ?? least.check);
  const [phone, setPhone] = useState<PhoneValue | undefined>();
  const [second, setSecond] = useState<string | undefined>();
  const [question, setQuestion] = useState({ text: '', answer: '' });
  const [told] = useState(makeTold);
  const shownPhone = phone ?? phoneOf(person?.phone);
  const shownSecond = second ?? person?.secondAddress ?? '';
  const byPhone = kind === 'text' || kind === 'voice';
  const other = checkAddress(shownSecond);
  const phoneError =
    shownPhone.e164 === undefined
      ? shownPhone.problem
      : shownPhone.e164 === account.phone
        ? 'That is your own number.'
        : undefined;
  const addressError = !other.ok
    ? addressProblem[other.problem]
    : addressKey(other.address) === addressKey(about.address)
      ? 'This must be another address than the first.'
      : undefined;
  const asks = kind === 'question' || about.check.question || least.question;
  const written = question.text.trim() !== '' && answerProblem(question.answer) === undefined;
  const questionSettled =
    !asks || written || (keptQuestion && kind !== 'question' && question.text === '' && question.answer === '');
  const target = byPhone
    ? phoneError === undefined
      ? shownPhone.e164
      : undefined
    : kind === 'email' && other.ok && addressError === undefined
      ? other.address
      : undefined;
  const owner = ownerOf(people, about, target);
  const wanted: WantedCheck | undefined =
    !questionSettled || (isPasscodeWay(kind) && target === undefined)
      ? undefined
      : {
          check: kind,
          ...defined({ target }),
          ...(kind === 'told' ? { told } : {}),
          ...(written ? { question: { text: question.text.trim(), answer: question.answer } } : {}),
        };
  const form = (
    <Stack>
      <Choice
        label="Readers prove who they are"
        value={kind}
        onChange={setKind}
        options={[...offered].reverse().map((value) => ({ value, label: checkWords[value] }))}
      />
      {byPhone ? (
        <PhoneInput
          label={`Phone of ${who(about)}`}
          value={shownPhone}
          onChange={setPhone}
          error={shownPhone.typed === '' ? undefined : phoneError}
        />
      ) : null}
      {kind === 'email' ? (
        <Field
          label={`Second address of ${who(about)}`}
          value={shownSecond}
          onChangeText={setSecond}
          inputMode="email"
          autoCapitalize="none"
          error={shownSecond === '' ? undefined : addressError}
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
      {asks && canAsk ? (
        <>
          <Field
            label="Question"
            value={question.text}
            onChangeText={(text) => setQuestion({ ...question, text })}
            maxLength={200}
            hint={
              keptQuestion && kind !== 'question'
                ? 'Leave both empty to keep the question they have.'
                : 'Something only the two of you know.'
            }
          />
          <Field
            label="Answer"
            value={question.answer}
            onChangeText={(answer) => setQuestion({ ...question, answer })}
            maxLength={100}
            autoComplete="off"
            error={
              question.answer !== '' && answerProblem(question.answer) !== undefined
                ? 'Three letters or digits at least.'
                : undefined
            }
          />
        </>
      ) : null}
    </Stack>
  );
  const remember = (): Promise<void> =>
    target === undefined || owner !== undefined
      ? Promise.resolve()
      : rememberPerson(people, {
          name: about.name,
          address: about.address,
          ...(byPhone ? { phone: target } : { secondAddress: target }),
        });
  return { form, wanted, remember };
}

export function ChangeChannelDialog({ message, grant, onClose, onDone }: Common & { grant: Grant }) {
  // A question is sealed for who holds the link; the link of what a reader passed on was never here.
  const canAsk = message.opened?.links[grant.id] !== undefined;
  const { form, wanted, remember } = useCheck({
    about: grant,
    least: leastFor(message),
    keptQuestion: grant.check.question,
    canAsk,
  });
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
      {grant.otherWay === undefined ? null : (
        <Banner tone="amber">{`They asked for another way: “${grant.otherWay.wish}”`}</Banner>
      )}
      <Text tone="soft">
        {grant.check.hint === ''
          ? `Now: ${firstLower(checkWords[grant.check.kind])}.`
          : `Now: ${grant.check.hint}. A passcode on its way to the old place stops working.`}
      </Text>
      {canAsk ? null : (
        <Text tone="soft">
          No new question can be asked: their link is with whoever passed it on. To ask one, withdraw this access and
          write to them yourself.
        </Text>
      )}
      {form}
    </ActDialog>
  );
}

/** By which door somebody is to read: their account or list where they have one, else a link with a check. */
function useWantedReader(
  message: Sent,
  about: About,
  least: Pick<HandlingTerms, 'check' | 'question'>,
  language: Language | undefined,
) {
  const { form, wanted, remember } = useCheck({ about, least, keptQuestion: false });
  const { data: colleagues = [] } = useColleagues();
  const colleague = accountAt(colleagues, about.address);
  const { readers, checking } = useRegistered([about.address]);
  const found = oneAt(readers, about.address);
  const registered =
    found !== undefined && colleague === undefined && passwordSuffices(found.knownBy, message.handling)
      ? found
      : undefined;
  const known = useKnownKeys();
  // As in the plan: nothing is sealed to another key than the one they had, unless the worker has asked them.
  const changed = colleague !== undefined && (known === undefined || isChanged(known, colleague));
  const told = language === undefined ? {} : { language };
  const reader = ((): WantedReader | undefined => {
    if (changed || checking) return undefined;
    if (colleague !== undefined)
      return colleague.key === undefined
        ? undefined
        : {
            kind: 'account',
            accountId: colleague.id,
            suite: colleague.key.suite,
            publicKey: colleague.key.publicKey as Uint8Array<ArrayBuffer>,
          };
    if (registered !== undefined)
      return {
        kind: 'registered',
        readerId: registered.id,
        ...told,
        suite: registered.key.suite,
        publicKey: registered.key.publicKey as Uint8Array<ArrayBuffer>,
      };
    return wanted === undefined ? undefined : { kind: 'link', ...told, ...wanted };
  })();
  const warning =
    changed && known !== undefined ? (
      <Banner tone="brick">{`${who(about)} has another key here than when you first wrote to them. Write to them first: the plan says what to do.`}</Banner>
    ) : null;
  return {
    form: colleague === undefined && registered === undefined ? form : warning,
    reader,
    remember,
    by: colleague !== undefined ? 'account' : registered !== undefined ? 'registered' : 'link',
  } as const;
}

const againWords = {
  account: 'They find it in Received again.',
  registered: 'They find it in their list, sealed to the password they have now, and are told.',
  link: 'The old link stays dead. A new notice with a new link is sent.',
};

export function GiveAgainDialog({
  message,
  grant,
  office,
  now,
  onClose,
  onDone,
}: Common & { grant: Grant; office: Office; now: Date }) {
  const { form, reader, remember, by } = useWantedReader(message, grant, leastFor(message), grant.language);
  const [closing, setClosing] = useState<Closing>({ kind: 'two-weeks' });
  const result = resolveClosing(closing, now, calendarHere(office));
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
      <Text tone="soft">{againWords[by]}</Text>
      <ClosingForm office={office} now={now} closing={closing} onChange={setClosing} />
      {form}
    </ActDialog>
  );
}

const addedWords = {
  account: 'A colleague: they find it in Received.',
  registered: 'They have a password here: they find it in their list, and are told.',
  link: 'They get a notice with a link of their own. The handling is the message’s.',
};

/** Somebody more may read it; or the address of whom the notice did not reach is put right. */
export function AddReaderDialog({
  message,
  corrects,
  office,
  now,
  onClose,
  onDone,
}: Common & { corrects: Grant | undefined; office: Office; now: Date }) {
  const [name, setName] = useState(corrects?.name ?? '');
  const [typed, setTyped] = useState(corrects?.address ?? '');
  const checked = checkAddress(typed);
  const address = checked.ok ? checked.address : '';
  const same = corrects !== undefined && addressKey(address) === addressKey(corrects.address);
  const { check, question } = message.handling;
  const least = leastFor(message, message.handling);
  const { form, reader, remember, by } = useWantedReader(
    message,
    { name, address, check: { kind: check, question } },
    least,
    corrects?.language,
  );
  const [closing, setClosing] = useState<Closing>(
    corrects === undefined ? { kind: 'two-weeks' } : { kind: 'exact', local: toLocal(corrects.closesAt, zone) },
  );
  const result = resolveClosing(closing, now, calendarHere(office));
  const problem = typed.trim() === '' ? undefined : !checked.ok ? addressProblem[checked.problem] : undefined;
  return (
    <ActDialog
      title={corrects === undefined ? 'Let somebody else read it' : `Correct the address of ${who(corrects)}`}
      label={corrects === undefined ? 'Let them read it' : 'Use this address'}
      disabled={!checked.ok || same || reader === undefined || !result.ok}
      onClose={onClose}
      onDone={onDone}
      act={async () => {
        const said = await letRead(message, {
          name: name.trim(),
          address,
          reader: reader!,
          closesAt: result.ok ? result.closesAt : now,
          corrects,
        });
        if (reader!.kind === 'link') await remember();
        return said;
      }}
    >
      {corrects === undefined ? null : (
        <Text>{`The notice to ${corrects.address} did not arrive. That access ends when you use another address.`}</Text>
      )}
      <Field label="Name" value={name} onChangeText={setName} maxLength={200} />
      <Field
        label="Address"
        value={typed}
        onChangeText={setTyped}
        inputMode="email"
        autoCapitalize="none"
        error={problem}
      />
      {checked.ok ? <Text tone="soft">{addedWords[by]}</Text> : null}
      {corrects === undefined ? (
        <ClosingForm office={office} now={now} closing={closing} onChange={setClosing} />
      ) : null}
      {checked.ok ? form : null}
    </ActDialog>
  );
}
