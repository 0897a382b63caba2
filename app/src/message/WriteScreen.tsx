/** Write: the text on one side, how it goes out on the other; on a phone the plan is a strip that opens. */
import { isProblem } from '@under-lock/contract/problem';
import { isRead } from '@under-lock/core/locks/lock';
import { momentInWords, timeInWords } from '@under-lock/core/when';
import { Banner, border, Button, Choice, colour, Dialog, Field, Loading, Panel, Progress, Row, space, Stack, Text } from '@under-lock/ui';
import { DropZone } from '@under-lock/ui/drop-zone';
import { router, useLocalSearchParams } from 'expo-router';
import { lazy, Suspense, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, View } from 'react-native';
import { mutate } from 'swr';
import { useNow, zone } from '../clock';
import { HandlingForm } from '../handling/HandlingForm';
import { usePresets } from '../handling/usePresets';
import { handlingSentence, tightenedWords } from '../handling/words';
import { useColleagues, useOffice } from '../office/useOffice';
import { useRecipientCertificates } from '../people/certificates';
import { useRecipientKeys } from '../people/keys';
import { personAt, rememberPerson, usePeople } from '../people/person';
import { useRegistered } from '../people/useRegistered';
import { type PlanActions } from '../plan/plan-actions';
import { PlanPanel } from '../plan/PlanPanel';
import { presetOf, usePlan } from '../plan/usePlan';
import { useSigns } from '../keys/useKeys';
import { AskSignedLater } from '../people/AskSignedLater';
import { ownAddresses } from '../session/own-addresses';
import { sendWords, unsettled } from '../plan/words';
import { fileWayIn, takePassword } from '../passwords/for-recipient';
import { useFileRules } from '../passwords/useFileRules';
import { usePasswords } from '../passwords/usePasswords';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Screen, useWide } from '../shell/Screen';
import { door } from '../worker/door';
import { type Draft, type DraftRecipient, isBlank } from './draft';
import { FilesField, useFiles } from './FilesField';
import { LeavingForm } from './LeavingForm';
import { RecipientField } from './RecipientField';
import { SeenBeforeSending } from './SeenBeforeSending';
import { cancelSending, discardFiles, EarlierVersionSentError, sendDraft, type SendStep } from './send';
import { type DraftDesk, type Keeping, useDraft } from './useDraft';

const Editor = lazy(async () => ({ default: (await import('./Editor')).Editor }));

export function WriteScreen() {
  const { id, fresh } = useLocalSearchParams<{ id: string; fresh?: string }>();
  const desk = useDraft(id, fresh === '1');
  if (desk.missing) {
    return (
      <Screen title="This draft is gone">
        <Text>It has been sent or removed, here or on another device.</Text>
        <Row><Button kind="main" label="Write a new message" onPress={() => router.replace('/write')} /></Row>
      </Screen>
    );
  }
  if (desk.draft === undefined) {
    return <Screen title="Write">{desk.keeping.state === 'failed' ? <Banner tone="brick">{desk.keeping.sentence}</Banner> : <Loading what="Opening your draft" />}</Screen>;
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

function WriteDesk({ desk, draft }: { desk: DraftDesk; draft: Draft }) {
  const { account } = useOpenSession();
  const { data: office } = useOffice();
  const { data: people } = usePeople();
  const { data: colleagues } = useColleagues();
  const { data: presets } = usePresets();
  const registered = useRegistered(draft.recipients.map(({ address }) => address));
  const now = useNow();
  const wide = useWide();
  const certificates = useRecipientCertificates(people, draft.recipients.map(({ address }) => address));
  const keys = useRecipientKeys(people, draft.recipients.map(({ address }) => address));
  const signs = useSigns(draft.from ?? account.address, presets !== undefined && presetOf(draft, presets)?.terms.clear === true);
  const { data: passwords } = usePasswords();
  const { data: fileRules } = useFileRules();
  const planned = usePlan(draft, { office, account, people, colleagues, registered, presets, certificates, keys, signs, passwords, fileRules, now });
  const [planOpen, setPlanOpen] = useState(false);
  const [preview, setPreview] = useState(false);
  const [sending, setSending] = useState<SendStep | undefined>();
  const [failed, setFailed] = useState<{ sentence: string; messageId?: string } | undefined>();
  const [dropping, setDropping] = useState(false);
  const limit = office?.limits.maxBytes ?? 25_000_000;
  const files = useFiles(draft.files, limit, (edit) => desk.change((now_) => ({ ...now_, files: edit(now_.files) })));
  const set = (change: Partial<Draft>): void => desk.change((before) => ({ ...before, ...change }));

  if (office === undefined || people === undefined || colleagues === undefined || presets === undefined || passwords === undefined || fileRules === undefined || planned === undefined) return <Screen title="Write"><Loading what="Getting your desk ready" /></Screen>;

  if (draft.waiting !== undefined && sending === undefined) return <Waiting waiting={draft.waiting} now={now} />;
  const { plan, preset, wanted, applied, kept, leastCheck, leavesAt } = planned;
  const { terms, closing } = applied;
  const closesAt = closing.ok ? closing.closesAt : undefined;
  const sentence = closesAt === undefined ? undefined : handlingSentence(closesAt, terms, now, zone);
  const because = [
    ...(preset === undefined ? [] : tightenedWords(applied.tightened, terms, closesAt, `because the preset “${preset.name}” says so`, now, zone)),
    ...tightenedWords(kept, terms, closesAt, 'as in the message that this answers', now, zone),
  ];
  const open = [...unsettled(plan, now), ...(files.coming.length > 0 ? ['files still being kept'] : [])];
  const suggestions = [...people.map(({ value }) => ({ name: value.name, address: value.address })), ...colleagues.filter(({ id }) => id !== account.id).flatMap((one) => ownAddresses(one).map((address) => ({ name: one.name, address })))];
  const actions: PlanActions = {
    setPhone: (address, phone) => rememberPerson(people, { name: nameOf(address), address, phone }),
    setSecondAddress: (address, secondAddress) => rememberPerson(people, { name: nameOf(address), address, secondAddress }),
    setCheck: (address, check) => changeRecipient(address, { check }),
    setLock: (address, lock) => changeRecipient(address, { lock }),
    setQuestion: (address, change) => changeRecipient(address, change),
    setScope: (address, scope) => changeRecipient(address, { scope }),
    leastGuesses: fileRules.leastGuesses,
    passwordOf: (address) => fileWayIn({ draft, people, passwords, fileRules }, address).password?.password,
    usePassword: (address, chosen) => takePassword({ people, passwords, fileRules, name: nameOf(address) }, address, chosen, (password) => changeRecipient(address, { password })),
    remove: removeRecipient,
    askSigned: (address) => <AskSignedLater person={personAt(people, address)?.value ?? { name: nameOf(address), address }} people={people} forDraft={desk.id} />,
  };
  function changeRecipient(address: string, change: Partial<DraftRecipient>): void {
    desk.change((before) => ({ ...before, recipients: before.recipients.map((one) => (one.address === address ? { ...one, ...change } : one)) }));
  }
  function removeRecipient(address: string): void {
    desk.change((before) => ({ ...before, recipients: before.recipients.filter((one) => one.address !== address) }));
  }
  function nameOf(address: string): string {
    return draft.recipients.find((one) => one.address === address)?.name ?? '';
  }
  const recipientField = (label: 'To' | 'Cc', role: 'to' | 'cc') => (
    <RecipientField
      label={label}
      chosen={draft.recipients.filter((one) => one.role === role)}
      taken={draft.recipients}
      suggestions={suggestions}
      onAdd={(added) => desk.change((before) => ({ ...before, recipients: [...before.recipients, ...added.map((one) => ({ ...one, role }))] }))}
      onRemove={removeRecipient}
    />
  );

  /** Whoever was written to is known from now on, and the lock chosen for them is theirs the next time, too. */
  async function rememberRecipients(): Promise<void> {
    for (const { recipient } of plan.lines) if (recipient.colleague === undefined && personAt(people!, recipient.address) === undefined) await rememberPerson(people!, { name: recipient.name, address: recipient.address });
    for (const { address, lock } of draft.recipients) {
      const person = lock === undefined ? undefined : personAt(people!, address)?.value;
      if (person !== undefined && person.lock !== lock) await rememberPerson(people!, { ...person, lock });
    }
  }

  const send = async (): Promise<void> => {
    if (sending !== undefined) return;
    setFailed(undefined);
    setSending({ step: 'sealing' });
    try {
      await desk.keepNow();
      const { messageId, leavesAt } = await sendDraft({
        draft, draftId: desk.id, planned: planned!, colleagues: colleagues!, registered, certificates, keys, passwords: passwords!, fileRules: fileRules!, people: people!, office: office!, account, now: new Date(), progress: setSending,
        async keepAttempt(attempt) {
          desk.change((before) => ({ ...before, attempt }));
          await desk.keepNow();
        },
      });
      // It has gone: what can't be noted now, because a person was changed a moment ago, is no reason to say otherwise.
      await rememberRecipients().catch(() => undefined);
      if (leavesAt > new Date()) {
        // Kept until it has left: then it can be taken back as it was.
        desk.change((before) => ({ ...before, waiting: { messageId, leavesAt: leavesAt.toISOString() } }));
        await desk.keepNow();
      } else {
        await discardFiles(draft);
        await desk.drop();
      }
      void mutate((key) => typeof key === 'string' && (key.startsWith('$inf$sent') || key === 'desk' || key.startsWith('desk')));
      router.replace(`/mail/${messageId}?sent=1` as never);
    } catch (error) {
      setSending(undefined);
      if (error instanceof Error && error.name === 'AbortError') return setFailed({ sentence: 'Stopped. Nothing was sent; your draft is kept.' });
      if (error instanceof EarlierVersionSentError) return setFailed({ sentence: 'An earlier version of this message had gone out before the connection was lost. Look at it before you send this one too.', messageId: error.messageId });
      const kept = isProblem(error, 'unreachable', 'server-error', 'storage-full') ? ' Not sent yet: your draft and what was uploaded are kept; sending again goes on where it stopped.' : ' Not sent: your draft is kept.';
      return setFailed({ sentence: `${problemWords(error)}${kept}` });
    }
    return undefined;
  };

  const stepWords = sending === undefined ? '' : sending.step === 'sealing' ? 'Sealing in your browser' : sending.step === 'uploading' ? 'Uploading the sealed message' : 'Handing over for delivery';
  const foot = (
    <View style={styles.foot}>
      {failed === undefined ? null : (
        <Banner tone="brick" actions={failed.messageId === undefined ? undefined : <Button label="Look at what was sent" onPress={() => router.push(`/mail/${failed.messageId}` as never)} />}>{failed.sentence}</Banner>
      )}
      {sending === undefined ? (
        <Text kind="small" tone={open.length === 0 ? 'sea' : 'amber'} aria-live="polite">{open.length === 0 ? '● Everything is settled' : `▲ ${open.length === 1 ? '1 thing' : `${open.length} things`} to settle: ${open[0]}`}</Text>
      ) : (
        <Stack style={styles.sending}>
          <Text kind="small" aria-live="polite">{stepWords}</Text>
          <Progress done={sending.step === 'uploading' ? sending.done : sending.step === 'dispatching' ? 1 : 0} label={stepWords} />
        </Stack>
      )}
      <Row>
        <Button kind="main" wide label={sending !== undefined ? 'Sending' : leavesAt === undefined ? sendWords(plan.lines, terms.clear) : `Send ${momentInWords(leavesAt, now, zone)}`} onPress={() => void send()} disabled={open.length > 0} busy={sending !== undefined} />
        {sending?.step === 'uploading' && draft.attempt !== undefined ? <Button label="Stop" onPress={() => void cancelSending(draft.attempt!)} /> : null}
        {sending === undefined && (plan.lines.length === 0 || plan.lines.some(({ chosen }) => isRead(chosen.lock))) ? <Button label="As they see it" onPress={() => setPreview(true)} /> : null}
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
        onOpen={(presetId, openReason) => desk.change(({ terms: _, ...before }) => ({ ...before, presetId, openReason }))}
        onLock={() => desk.change(({ terms: _, presetId: __, openReason: ___, ...before }) => before)}
      />
      <LeavingForm sendAt={draft.sendAt} leavesAt={leavesAt} now={now} onChange={(sendAt) => desk.change(({ sendAt: _, ...before }) => (sendAt === undefined ? before : { ...before, sendAt }))} />
    </Stack>
  );
  const strip = wide ? undefined : (
    <View style={styles.strip} role="complementary" aria-label="How it goes out">
      {planOpen ? <ScrollView style={styles.opened} contentContainerStyle={styles.openedContent}>{panel}</ScrollView> : null}
      <Pressable role="button" aria-expanded={planOpen} aria-label={planOpen ? 'Close the plan' : `Plan: ${draft.recipients.length} ${draft.recipients.length === 1 ? 'recipient' : 'recipients'}, open`} onPress={() => setPlanOpen(!planOpen)} style={styles.stripHead}>
        <View style={styles.stripWords}>
          <Text kind="label" tone="sea">{planOpen ? '▾ Close the plan' : `▴ Plan · ${draft.recipients.length} ${draft.recipients.length === 1 ? 'recipient' : 'recipients'}`}</Text>
          {planOpen ? null : <Text kind="small" tone="soft">{preset === undefined ? (sentence ?? 'No closing date yet') : `${preset.name}. ${sentence ?? 'No closing date yet'}`}</Text>}
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
        <Banner tone="amber" actions={<><Button label="Take the other version" onPress={() => void desk.takeTheirs()} /><Button label="Keep this version" onPress={() => void desk.keepMine()} /></>}>
          This draft was changed in another tab or on another device. Nothing has been overwritten: choose which version to go on with.
        </Banner>
      ) : null}
      {desk.keeping.state === 'failed' ? <Banner tone="amber">{desk.keeping.sentence}</Banner> : null}
      <DropZone onFiles={files.add}>
        {account.further.length === 0 ? null : (
          <Choice row label="From" value={draft.from ?? account.address} onChange={(from) => desk.change(({ from: _, ...before }) => (from === account.address ? before : { ...before, from }))} options={ownAddresses(account).map((value) => ({ value, label: value }))} />
        )}
        <View>
          {recipientField('To', 'to')}
          {recipientField('Cc', 'cc')}
        </View>
        <Field label="Subject" value={draft.subject} onChangeText={(subject) => set({ subject: subject.replace(/[\r\n]+/g, ' ') })} maxLength={300} hint={terms.clear ? 'Readable by anybody on its way, like the message.' : 'Sealed with the message; the notice does not show it.'} />
        <Field label="Reference number" value={draft.reference} onChangeText={(reference) => set({ reference: reference.replace(/[\r\n]+/g, ' ') })} code maxLength={100} hint="Stays readable in the records." />
        <Suspense fallback={<Panel><Loading what="Getting the editor" /></Panel>}>
          <Editor key={desk.version} html={draft.html} onChange={(html, text) => set({ html, text })} />
        </Suspense>
        <FilesField files={draft.files} limit={limit} desk={files} onRemove={(blobId) => { desk.change((before) => ({ ...before, files: before.files.filter((file) => file.blobId !== blobId) })); void door().message.removeFile(blobId).catch(() => undefined); }} />
      </DropZone>
      {isBlank(draft) ? null : <Row><Button kind="quiet" label="Remove this draft" onPress={() => setDropping(true)} /></Row>}
      <Dialog
        title="Remove this draft?"
        open={dropping}
        onClose={() => setDropping(false)}
        actions={<><Button kind="stop" label="Remove" onPress={() => void discardFiles(draft).then(() => desk.drop()).then(() => router.replace('/mail/drafts' as never))} /><Button label="Keep" onPress={() => setDropping(false)} /></>}
      >
        <Text>Text and files go for good. Nothing of it has been sent.</Text>
      </Dialog>
      {preview && closesAt !== undefined ? <SeenBeforeSending draft={draft} plan={plan} account={account} office={office} handling={{ ...terms, closesAt }} now={now} onClose={() => setPreview(false)} /> : null}
    </Screen>
  );
}

function Waiting({ waiting, now }: { waiting: NonNullable<Draft['waiting']>; now: Date }) {
  const leavesAt = new Date(waiting.leavesAt);
  return (
    <Screen title="Sent, and waiting to leave">
      <Text>{leavesAt > now ? `It leaves ${momentInWords(leavesAt, now, zone)}. To change it, take it back first.` : 'It has left.'}</Text>
      <Row><Button kind="main" label="Look at the message" onPress={() => router.replace(`/mail/${waiting.messageId}` as never)} /></Row>
    </Screen>
  );
}

const styles = StyleSheet.create({
  foot: { gap: space.s },
  sending: { gap: space.xs },
  strip: { backgroundColor: colour.paper, borderTopWidth: border.hair, borderTopColor: colour.line, padding: space.m, gap: space.s, maxHeight: '85%' },
  stripHead: { minHeight: space.touch, justifyContent: 'center' },
  stripWords: { gap: border.strong },
  opened: { flexShrink: 1 },
  openedContent: { padding: space.l, paddingTop: space.xl },
  sideColumn: { flex: 1 },
  sideFoot: { padding: space.l, borderTopWidth: border.hair, borderTopColor: colour.line },
});
