import { firstLower } from '@under-lock/core/first-letter';
import { type Grant } from '@under-lock/contract/outgoing';
import { type Office } from '@under-lock/contract/office';
import { resolveClosing, toLocal } from '@under-lock/core/handling/closing';
import { type Closing } from '@under-lock/core/handling/closing-choice';
import { type HandlingTerms, LOOSEST_TERMS, mergeTerms, passwordSuffices } from '@under-lock/core/handling/handling';
import { keepsToClosing, presetFloor } from '@under-lock/core/handling/preset';
import { addressKey, checkAddress, type Correspondent } from '@under-lock/core/people/address';
import { type Language } from '@under-lock/core/language';
import { Banner, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { zone } from '../clock';
import { calendarHere, ClosingForm } from '../handling/HandlingForm';
import { checkWords, listed } from '../handling/words';
import { isChanged } from '@under-lock/core/account/known-keys';
import { useKnownKeys } from '../people/known-keys';
import { useRegistered } from '../people/useRegistered';
import { accountAt, oneAt } from '@under-lock/core/people/find';
import { openedWords, who } from '../handling/grant-words';
import { useColleagues } from '../session/useOffice';
import { type WantedReader } from '@under-lock/core/locks/wanted';
import { changeCheck, giveAccessAgain, letRead, moveDate, withdrawFrom } from './message-actions';
import { ActDialog } from './ActDialog';
import { type About } from './how-known';
import { useHowKnown } from './useHowKnown';
import { type Sent } from './useSent';
import { WhoForm } from './WhoForm';

interface Common {
  message: Sent;
  onClose: () => void;
  onDone: (text: string) => Promise<void>;
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

/** The weakest check the message's preset lets anybody have; what its own handling asks besides, where that counts. */
const leastFor = (
  { presetTerms }: Sent,
  own: HandlingTerms = LOOSEST_TERMS,
): Pick<HandlingTerms, 'check' | 'question'> =>
  mergeTerms(presetTerms === undefined ? LOOSEST_TERMS : presetFloor(presetTerms), own);

export function ChangeChannelDialog({ message, grant, onClose, onDone }: Common & { grant: Grant }) {
  // A question is sealed for who holds the link; the link of what a reader passed on was never here.
  const canAsk = message.opened?.links[grant.id] !== undefined;
  const { form, wanted, remember } = useHowKnown({
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
  const { form, wanted, remember } = useHowKnown({ about, least, keptQuestion: false });
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
  const [typed, setTyped] = useState<Correspondent>({ name: corrects?.name ?? '', address: corrects?.address ?? '' });
  const checked = checkAddress(typed.address);
  const address = checked.ok ? checked.address : '';
  const same = corrects !== undefined && addressKey(address) === addressKey(corrects.address);
  const { check, question } = message.handling;
  const least = leastFor(message, message.handling);
  const { form, reader, remember, by } = useWantedReader(
    message,
    { name: typed.name, address, check: { kind: check, question } },
    least,
    corrects?.language,
  );
  const [closing, setClosing] = useState<Closing>(
    corrects === undefined ? { kind: 'two-weeks' } : { kind: 'exact', local: toLocal(corrects.closesAt, zone) },
  );
  const result = resolveClosing(closing, now, calendarHere(office));
  const reading = new Set(message.grants.filter(({ state }) => state === 'held').map((one) => addressKey(one.address)));
  return (
    <ActDialog
      title={corrects === undefined ? 'Let somebody else read it' : `Correct the address of ${who(corrects)}`}
      label={corrects === undefined ? 'Let them read it' : 'Use this address'}
      disabled={!checked.ok || same || reader === undefined || !result.ok}
      onClose={onClose}
      onDone={onDone}
      act={async () => {
        const said = await letRead(message, {
          name: typed.name.trim(),
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
      <WhoForm value={typed} onChange={setTyped} besides={reading} />
      {checked.ok ? <Text tone="soft">{addedWords[by]}</Text> : null}
      {corrects === undefined ? (
        <ClosingForm office={office} now={now} closing={closing} onChange={setClosing} />
      ) : null}
      {checked.ok ? form : null}
    </ActDialog>
  );
}
