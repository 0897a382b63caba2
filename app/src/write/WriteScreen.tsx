/** Write: the text on one side, how it goes out on the other; on a phone the plan is a strip that opens. */
import { type Account } from '@under-lock/contract/account';
import { isRead } from '@under-lock/core/locks/index';
import { type Correspondent } from '@under-lock/core/people/address';
import { momentInWords, timeInWords } from '@under-lock/core/when';
import {
  Banner,
  border,
  Button,
  Check,
  Choice,
  colour,
  Dialog,
  Field,
  Loading,
  Panel,
  Progress,
  Row,
  space,
  Stack,
  Text,
  TextButton,
} from '@under-lock/ui';
import { DropZone } from '@under-lock/ui/drop-zone';
import { router, useLocalSearchParams } from 'expo-router';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, View } from 'react-native';
import { useNow, zone } from '../clock';
import { HandlingForm } from '../handling/HandlingForm';
import { usePresets } from '../handling/usePresets';
import { handlingSentence, tightenedWords } from '../handling/words';
import { useColleagues, useOffice } from '../office/useOffice';
import { useRecipientCertificates } from '../people/certificates';
import { useRecipientKeys } from '../people/keys';
import { keepKnownKeys, useKnownKeys } from '../people/known-keys';
import { rememberPerson, usePeople } from '../people/person';
import { useRegistered } from '../people/useRegistered';
import { type PlanActions } from './plan/plan-actions';
import { PlanPanel } from './plan/Outline';
import { type PlanContext, type Planned, usePlan } from './usePlan';
import { presetOf } from '@under-lock/core/outgoing/handling';
import { useSigns } from '../keys/useKeys';
import { AskSignedAt } from '../people/AskSignedLater';
import { isOwnAddress, ownAddresses } from '@under-lock/core/people/own-addresses';
import { sendWords, unsettled } from './plan/plan-words';
import { takePassword } from '../passwords/for-recipient';
import { fileWayIn } from '@under-lock/core/locks/file/known';
import { useFileRules } from '../passwords/useFileRules';
import { usePasswords } from '../passwords/usePasswords';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Screen, useWide } from '../shell/Screen';
import { door } from '../threads/main/door';
import { type Draft, type DraftRecipient, isBlank } from '@under-lock/core/outgoing/draft';
import { FilesField, useFiles } from './letter/FilesField';
import { LeavingForm } from './plan/LeavingForm';
import { RecipientField } from './letter/RecipientField';
import { SeenBeforeSending } from './SeenBeforeSending';
import { discardFiles } from './send';
import { type DraftDesk, type Keeping, useDraft } from './useDraft';
import { useSending } from './useSending';
import { useSteady } from './useSteady';

const Editor = lazy(async () => ({ default: (await import('./letter/Editor')).Editor }));

export function WriteScreen() {
  const { id, fresh } = useLocalSearchParams<{ id: string; fresh?: string }>();
  const desk = useDraft(id, fresh === '1');
  if (desk.missing) {
    return (
      <Screen title="This draft is gone">
        <Text>It has been sent or removed, here or on another device.</Text>
        <Row>
          <Button kind="main" label="Write a new message" onPress={() => router.replace('/write')} />
        </Row>
      </Screen>
    );
  }
  if (desk.draft === undefined) {
    return (
      <Screen title="Write">
        {desk.keeping.state === 'failed' ? (
          <Banner tone="brick">{desk.keeping.sentence}</Banner>
        ) : (
          <Loading what="Opening your draft" />
        )}
      </Screen>
    );
  }
  return <WriteDesk desk={desk} draft={desk.draft} />;
}

function keepingWords(keeping: Keeping): string {
  switch (keeping.state) {
    case 'new':
      return 'Kept by itself, sealed, as you write';
    case 'changed':
    case 'keeping':
      return 'Keeping …';
    case 'kept':
      return `Draft kept, sealed, ${timeInWords(keeping.at, zone)}`;
    case 'conflict':
      return 'Not kept: changed elsewhere';
    case 'failed':
      return 'Not kept yet; trying again';
  }
}

/** Whom a letter may be for: the persons written to before, and colleagues. */
function suggested(
  account: Account,
  people: PlanContext['people'] | undefined,
  colleagues: PlanContext['colleagues'] | undefined,
): Correspondent[] {
  const known = (people ?? []).map(({ value: { name, address } }) => ({ name, address }));
  const others = (colleagues ?? []).filter(({ id }) => id !== account.id);
  return [...known, ...others.flatMap((one) => ownAddresses(one).map((address) => ({ name: one.name, address })))];
}

/** The handling in a sentence, and why it is stricter than what was chosen. */
function handlingSaid(
  planned: Planned | undefined,
  now: Date,
): { sentence: string | undefined; because: readonly string[] } {
  if (planned === undefined) return { sentence: undefined, because: [] };
  const {
    preset,
    applied: { terms, closing, tightened },
    kept,
  } = planned;
  const closesAt = closing.ok ? closing.closesAt : undefined;
  return {
    sentence: closesAt === undefined ? undefined : handlingSentence(closesAt, terms, now, zone),
    because: [
      ...(preset === undefined
        ? []
        : tightenedWords(tightened, terms, closesAt, `because the preset “${preset.name}” says so`, now, zone)),
      ...tightenedWords(kept, terms, closesAt, 'as in the message that this answers', now, zone),
    ],
  };
}

/** What is done to a draft's recipients. */
function recipientEdits(desk: DraftDesk) {
  const edit = (change: (recipients: Draft['recipients']) => Draft['recipients']): void =>
    desk.change((before) => ({ ...before, recipients: change(before.recipients) }));
  const add =
    (role: DraftRecipient['role']) =>
    (added: Correspondent[]): void =>
      edit((before) => [...before, ...added.map((one) => ({ ...one, role }))]);
  return {
    addTo: add('to'),
    addCc: add('cc'),
    addBcc: add('bcc'),
    change: (address: string, change: Partial<DraftRecipient>): void =>
      edit((before) => before.map((one) => (one.address === address ? { ...one, ...change } : one))),
    remove: (address: string): void => edit((before) => before.filter((one) => one.address !== address)),
  };
}

interface About {
  desk: DraftDesk;
  draft: Draft;
  people: PlanContext['people'] | undefined;
  colleagues: PlanContext['colleagues'] | undefined;
  passwords: PlanContext['passwords'] | undefined;
  fileRules: PlanContext['fileRules'] | undefined;
}

/** So many people's directories are asked at once. */
const FEW = 10;

/** What can be settled in the plan. Nothing is drawn that calls these before everything is there. */
function planActions({
  desk,
  draft,
  people: known,
  colleagues = [],
  passwords: book,
  fileRules: rules,
}: About): PlanActions {
  const [people, passwords, fileRules] = [known ?? [], book ?? [], rules!];
  const { change, remove } = recipientEdits(desk);
  const nameOf = (address: string): string => draft.recipients.find((one) => one.address === address)?.name ?? '';
  return {
    setPhone: (address, phone) => rememberPerson(people, { name: nameOf(address), address, phone }),
    setSecondAddress: (address, secondAddress) =>
      rememberPerson(people, { name: nameOf(address), address, secondAddress }),
    setCheck: (address, check) => change(address, { check }),
    setLock: (address, lock) => change(address, { lock }),
    setQuestion: change,
    setScope: (address, scope) => change(address, { scope }),
    leastGuesses: rules?.leastGuesses ?? 0,
    passwordOf: (address) =>
      fileWayIn({ settled: draft.recipients, people, passwords, fileRules }, address).password?.password,
    usePassword: (address, chosen) =>
      takePassword({ people, passwords, fileRules, name: nameOf(address) }, address, chosen, (password) =>
        change(address, { password }),
      ),
    takeNewKey: (address) =>
      keepKnownKeys(
        colleagues.filter((one) => isOwnAddress(one, address)),
        true,
      ),
    remove,
    askSigned: (address) => (
      <AskSignedAt
        address={address}
        name={nameOf(address)}
        forDraft={desk.id}
        lookAtOnce={draft.recipients.length <= FEW}
      />
    ),
  };
}

function WriteDesk({ desk, draft }: { desk: DraftDesk; draft: Draft }) {
  const { account } = useOpenSession();
  const { data: office, error: officeError } = useOffice();
  const { data: people, error: peopleError } = usePeople();
  const { data: colleagues, error: colleaguesError } = useColleagues();
  const { data: presets, error: presetsError } = usePresets();
  const now = useNow();
  const wide = useWide();
  const addresses = useMemo(() => draft.recipients.map(({ address }) => address), [draft.recipients]);
  const registered = useRegistered(addresses);
  const certificates = useRecipientCertificates(people, addresses);
  const keys = useRecipientKeys(people, addresses);
  const signsNeeded =
    certificates.judged.size + keys.judged.size > 0 ||
    (presets !== undefined && presetOf(draft, presets)?.terms.clear === true);
  const { signs, asking: askingOwn } = useSigns(draft.from ?? account.address, signsNeeded);
  const { data: passwords, error: passwordsError } = usePasswords();
  const { data: fileRules, error: fileRulesError } = useFileRules();
  const knownKeys = useKnownKeys();
  const context = {
    office,
    account,
    people,
    colleagues,
    knownKeys,
    registered: registered.readers,
    presets,
    certificates: certificates.judged,
    keys: keys.judged,
    signs,
    passwords,
    fileRules,
    now,
  };
  const { planned, planNow } = usePlan(draft, context);
  const asking = registered.asking || certificates.asking || keys.asking || askingOwn;
  const { sending, failed, send, stop } = useSending({ desk, draft, context, planNow });
  const [planOpen, setPlanOpen] = useState(false);
  const [preview, setPreview] = useState(false);
  const [withBcc, setWithBcc] = useState(false);
  const [dropping, setDropping] = useState(false);
  const limit = office?.limits.maxBytes ?? 25_000_000;
  const files = useFiles(draft.files, limit, (edit) => desk.change((now_) => ({ ...now_, files: edit(now_.files) })));
  const set = (change: Partial<Draft>): void => desk.change((before) => ({ ...before, ...change }));

  const lines = useMemo(
    () => ({
      to: draft.recipients.filter(({ role }) => role === 'to'),
      cc: draft.recipients.filter(({ role }) => role === 'cc'),
      bcc: draft.recipients.filter(({ role }) => role === 'bcc'),
    }),
    [draft.recipients],
  );
  const suggestions = useMemo(() => suggested(account, people, colleagues), [account, people, colleagues]);
  const said = useMemo(() => handlingSaid(planned, now), [planned, now]);
  const edits = useSteady(recipientEdits(desk));
  const actions = useSteady(planActions({ desk, draft, people, colleagues, passwords, fileRules }));

  if (
    office === undefined ||
    people === undefined ||
    colleagues === undefined ||
    presets === undefined ||
    passwords === undefined ||
    fileRules === undefined ||
    planned === undefined
  ) {
    const missing: unknown =
      officeError ?? peopleError ?? colleaguesError ?? presetsError ?? passwordsError ?? fileRulesError;
    return (
      <Screen title="Write">
        {missing === undefined ? (
          <Loading what="Getting your desk ready" />
        ) : (
          <Banner tone="brick">{problemWords(missing)}</Banner>
        )}
      </Screen>
    );
  }

  if (draft.waiting !== undefined && sending === undefined) return <Waiting waiting={draft.waiting} now={now} />;
  const { plan, preset, wanted, applied, leastCheck, leavesAt } = planned;
  const { terms, closing } = applied;
  const closesAt = closing.ok ? closing.closesAt : undefined;
  const { sentence, because } = said;
  const open = [
    ...unsettled(plan, now),
    ...(files.coming.length > 0 ? ['files still being kept'] : []),
    ...(asking ? ['how they can get it is still being looked up'] : []),
  ];
  const recipientField = (label: 'To' | 'Cc' | 'Bcc', role: DraftRecipient['role']) => (
    <RecipientField
      label={label}
      chosen={lines[role]}
      taken={draft.recipients}
      suggestions={suggestions}
      onAdd={{ to: edits.addTo, cc: edits.addCc, bcc: edits.addBcc }[role]}
      onRemove={edits.remove}
    />
  );

  const stepWords =
    sending === undefined
      ? ''
      : sending.step === 'sealing'
        ? 'Sealing in your browser'
        : sending.step === 'uploading'
          ? 'Uploading the sealed message'
          : 'Handing over for delivery';
  const foot = (
    <View style={styles.foot}>
      {failed === undefined ? null : (
        <Banner
          tone="brick"
          actions={
            failed.messageId === undefined ? undefined : (
              <Button label="Look at what was sent" onPress={() => router.push(`/mail/${failed.messageId}` as never)} />
            )
          }
        >
          {failed.sentence}
        </Banner>
      )}
      {sending === undefined ? (
        <Text kind="small" tone={open.length === 0 ? 'sea' : 'amber'} aria-live="polite">
          {open.length === 0
            ? '● Everything is settled'
            : `▲ ${open.length === 1 ? '1 thing' : `${open.length} things`} to settle: ${open[0]}`}
        </Text>
      ) : (
        <Stack style={styles.sending}>
          <Text kind="small" aria-live="polite">
            {stepWords}
          </Text>
          <Progress
            done={sending.step === 'uploading' ? sending.done : sending.step === 'dispatching' ? 1 : 0}
            label={stepWords}
          />
        </Stack>
      )}
      <Row>
        <Button
          kind="main"
          wide
          label={
            sending !== undefined
              ? 'Sending'
              : leavesAt === undefined
                ? sendWords(plan.lines, terms.clear)
                : `Send ${momentInWords(leavesAt, now, zone)}`
          }
          onPress={() => void send()}
          disabled={open.length > 0}
          busy={sending !== undefined}
        />
        {sending !== undefined && sending.step !== 'dispatching' ? <Button label="Stop" onPress={stop} /> : null}
        {sending === undefined && (plan.lines.length === 0 || plan.lines.some(({ chosen }) => isRead(chosen.lock))) ? (
          <Button label="As they see it" onPress={() => setPreview(true)} />
        ) : null}
      </Row>
    </View>
  );
  const panel = (
    <Stack>
      <PlanPanel plan={plan} leastCheck={leastCheck} actions={actions} sentence={sentence} because={because} />
      <HandlingForm
        office={office}
        now={now}
        presets={presets}
        preset={preset}
        wanted={wanted}
        onPreset={(presetId) => desk.change(({ terms: _, ...before }) => ({ ...before, presetId }))}
        chosen={draft.terms !== undefined}
        onChange={(change) => set({ terms: { ...wanted, ...change } })}
        onReset={() => desk.change(({ terms: _, ...before }) => before)}
        openReason={draft.openReason}
        onOpen={(presetId, openReason) =>
          desk.change(({ terms: _, ...before }) => ({ ...before, presetId, openReason }))
        }
        onLock={() => desk.change(({ terms: _, presetId: __, openReason: ___, ...before }) => before)}
      />
      <LeavingForm
        sendAt={draft.sendAt}
        leavesAt={leavesAt}
        now={now}
        onChange={(sendAt) =>
          desk.change(({ sendAt: _, ...before }) => (sendAt === undefined ? before : { ...before, sendAt }))
        }
      />
    </Stack>
  );
  const strip = wide ? undefined : (
    <View style={styles.strip} role="complementary" aria-label="How it goes out">
      {planOpen ? (
        <ScrollView style={styles.opened} contentContainerStyle={styles.openedContent}>
          {panel}
        </ScrollView>
      ) : null}
      <Pressable
        role="button"
        aria-expanded={planOpen}
        aria-label={
          planOpen
            ? 'Close the plan'
            : `Plan: ${draft.recipients.length} ${draft.recipients.length === 1 ? 'recipient' : 'recipients'}, open`
        }
        onPress={() => setPlanOpen(!planOpen)}
        style={styles.stripHead}
      >
        <View style={styles.stripWords}>
          <Text kind="label" tone="sea">
            {planOpen
              ? '▾ Close the plan'
              : `▴ Plan · ${draft.recipients.length} ${draft.recipients.length === 1 ? 'recipient' : 'recipients'}`}
          </Text>
          {planOpen ? null : (
            <Text kind="small" tone="soft">
              {preset === undefined
                ? (sentence ?? 'No closing date yet')
                : `${preset.name}. ${sentence ?? 'No closing date yet'}`}
            </Text>
          )}
        </View>
      </Pressable>
      {foot}
    </View>
  );
  const side = (
    <View style={styles.sideColumn}>
      <ScrollView contentContainerStyle={styles.openedContent}>{panel}</ScrollView>
      <View style={styles.sideFoot}>{foot}</View>
    </View>
  );

  return (
    <Screen title="Write" aside={keepingWords(desk.keeping)} side={side} strip={strip}>
      {desk.keeping.state === 'conflict' ? (
        <Banner
          tone="amber"
          actions={
            <>
              <Button label="Take the other version" onPress={() => void desk.takeTheirs()} />
              <Button label="Keep this version" onPress={() => void desk.keepMine()} />
            </>
          }
        >
          This draft was changed in another tab or on another device. Nothing has been overwritten: choose which version
          to go on with.
        </Banner>
      ) : null}
      {desk.keeping.state === 'failed' ? <Banner tone="amber">{desk.keeping.sentence}</Banner> : null}
      <DropZone onFiles={files.add}>
        {account.further.length === 0 ? null : (
          <Choice
            row
            label="From"
            value={draft.from ?? account.address}
            onChange={(from) =>
              desk.change(({ from: _, ...before }) => (from === account.address ? before : { ...before, from }))
            }
            options={ownAddresses(account).map((value) => ({ value, label: value }))}
          />
        )}
        <View>
          {recipientField('To', 'to')}
          {recipientField('Cc', 'cc')}
          {withBcc || lines.bcc.length > 0 ? (
            recipientField('Bcc', 'bcc')
          ) : (
            <Row>
              <TextButton
                label="Add Bcc"
                describe="Add Bcc: people nobody else sees"
                onPress={() => setWithBcc(true)}
              />
            </Row>
          )}
          {draft.recipients.length < 2 ? null : (
            <Check
              label="Each alone"
              detail="Nobody sees who else gets it, and answers come to you only"
              value={draft.eachAlone === true}
              onChange={(alone) =>
                desk.change(({ eachAlone: _, ...before }) => (alone ? { ...before, eachAlone: true } : before))
              }
            />
          )}
        </View>
        <Field
          label="Subject"
          value={draft.subject}
          onChangeText={(subject) => set({ subject: subject.replace(/[\r\n]+/g, ' ') })}
          maxLength={300}
          hint={
            terms.clear
              ? 'Readable by anybody on its way, like the message.'
              : 'Sealed with the message; the notice does not show it.'
          }
        />
        <Field
          label="Reference number"
          value={draft.reference}
          onChangeText={(reference) => set({ reference: reference.replace(/[\r\n]+/g, ' ') })}
          code
          maxLength={100}
          hint="Stays readable in the records."
        />
        <Suspense
          fallback={
            <Panel>
              <Loading what="Getting the editor" />
            </Panel>
          }
        >
          <Editor key={desk.version} html={draft.html} onChange={(html, text) => set({ html, text })} />
        </Suspense>
        <FilesField
          files={draft.files}
          limit={limit}
          desk={files}
          onRemove={(blobId) => {
            desk.change((before) => ({ ...before, files: before.files.filter((file) => file.blobId !== blobId) }));
            void door()
              .message.removeFile(blobId)
              .catch(() => undefined);
          }}
        />
      </DropZone>
      {isBlank(draft) ? null : (
        <Row>
          <Button kind="quiet" label="Remove this draft" onPress={() => setDropping(true)} />
        </Row>
      )}
      <Dialog
        title="Remove this draft?"
        open={dropping}
        onClose={() => setDropping(false)}
        actions={
          <>
            <Button
              kind="stop"
              label="Remove"
              onPress={() =>
                void discardFiles(draft)
                  .then(() => desk.drop())
                  .then(() => router.replace('/mail/drafts' as never))
              }
            />
            <Button label="Keep" onPress={() => setDropping(false)} />
          </>
        }
      >
        <Text>Text and files go for good. Nothing of it has been sent.</Text>
      </Dialog>
      {preview && closesAt !== undefined ? (
        <SeenBeforeSending
          draft={draft}
          plan={plan}
          account={account}
          office={office}
          handling={{ ...terms, closesAt }}
          now={now}
          onClose={() => setPreview(false)}
        />
      ) : null}
    </Screen>
  );
}

function Waiting({ waiting, now }: { waiting: NonNullable<Draft['waiting']>; now: Date }) {
  const leavesAt = new Date(waiting.leavesAt);
  return (
    <Screen title="Sent, and waiting to leave">
      <Text>
        {leavesAt > now
          ? `It leaves ${momentInWords(leavesAt, now, zone)}. To change it, take it back first.`
          : 'It has left.'}
      </Text>
      <Row>
        <Button
          kind="main"
          label="Look at the message"
          onPress={() => router.replace(`/mail/${waiting.messageId}` as never)}
        />
      </Row>
    </Screen>
  );
}

const styles = StyleSheet.create({
  foot: { gap: space.s },
  sending: { gap: space.xs },
  strip: {
    backgroundColor: colour.paper,
    borderTopWidth: border.hair,
    borderTopColor: colour.line,
    padding: space.m,
    gap: space.s,
    maxHeight: '85%',
  },
  stripHead: { minHeight: space.touch, justifyContent: 'center' },
  stripWords: { gap: border.strong },
  opened: { flexShrink: 1 },
  openedContent: { padding: space.l, paddingTop: space.xl },
  sideColumn: { flex: 1 },
  sideFoot: { padding: space.l, borderTopWidth: border.hair, borderTopColor: colour.line },
});
