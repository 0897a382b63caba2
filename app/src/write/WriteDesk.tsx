/** The letter and its plan: beside one another on a wide screen; on a phone the plan is one line that opens to a sheet. */
import { momentInWords } from '@under-lock/core/when';
import { Banner, border, Button, colour, Loading, Result, Row, Sheet, space, Stack, Text } from '@under-lock/ui';
import { memo, useCallback, useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { zone } from '../clock';
import { problemWords } from '../problem-words';
import { Screen, useWide } from '../shell/Screen';
import { type Draft, isBlank } from '@under-lock/core/outgoing/draft';
import { Letter } from './letter/Letter';
import { Outline } from './plan/Outline';
import { AsTheySeeItButton, Failed, PlanStrip, SendButtons, SendState } from './SendFoot';
import { restoreDraft } from './removed';
import { type DraftDesk } from './useDraft';
import { useWriting, type Writing } from './useWriting';
import { fromHere } from '../shell/from-here';
import { offerUndo } from '../shell/Undo';

interface Props {
  desk: DraftDesk;
  draft: Draft;
  /** How it is kept, in words. */
  aside: string;
}

export function WriteDesk({ desk, draft, aside }: Props) {
  const { ready, writing, missing } = useWriting(desk, draft);
  if (!ready)
    return (
      <Screen title="Write">
        {missing === undefined ? (
          <Loading what="Getting your desk ready" />
        ) : (
          <Banner tone="brick">{problemWords(missing)}</Banner>
        )}
      </Screen>
    );
  if (draft.waiting !== undefined && writing.sending === undefined)
    return <Waiting waiting={draft.waiting} now={writing.now} />;
  return <Page writing={writing} desk={desk} draft={draft} aside={aside} />;
}

/** All beside the words: drawn anew when something of it changes, and not at each key. */
const Plan = memo((writing: Writing) => (
  <Stack>
    <Outline {...writing} />
    <RemoveDraft {...writing} />
  </Stack>
));

const PlanSide = memo((writing: Writing) => (
  <View style={styles.side}>
    <ScrollView contentContainerStyle={styles.sideContent}>
      <Plan {...writing} />
    </ScrollView>
    <View style={styles.sideFoot}>
      <Failed {...writing} />
      <SendState {...writing} />
      <Row>
        <SendButtons {...writing} />
        <AsTheySeeItButton {...writing} />
      </Row>
    </View>
  </View>
));

function Page({ writing, desk, draft, aside }: Props & { writing: Writing }) {
  const wide = useWide();
  const [planOpen, setPlanOpen] = useState(false);
  const openPlan = useCallback(() => setPlanOpen(true), []);
  const isPlanAsked = planOpen || writing.openAsked !== undefined;
  return (
    <Screen
      title="Write"
      aside={aside}
      fills
      side={<PlanSide {...writing} />}
      strip={wide ? undefined : <PlanStrip {...writing} covered={isPlanAsked} onOpen={openPlan} />}
    >
      <KeptElsewhere desk={desk} />
      <SentBack {...writing} />
      <Letter writing={writing} desk={desk} draft={draft} />
      {/* What is being asked there stays to be answered when the screen is turned. */}
      {isPlanAsked && !wide ? (
        <Sheet
          title="Before it goes"
          back="Back to the text"
          onClose={() => setPlanOpen(false)}
          foot={
            <Stack style={styles.sheetFoot}>
              <Failed {...writing} />
              <SendState {...writing} />
              <Row>
                <AsTheySeeItButton {...writing} />
                <SendButtons {...writing} />
              </Row>
            </Stack>
          }
        >
          <Plan {...writing} />
        </Sheet>
      ) : null}
    </Screen>
  );
}

/** Why it did not go the last time. */
function SentBack({ desk, draft: { sentBack }, now }: Writing) {
  if (sentBack === undefined) return null;
  return (
    <Banner
      tone="amber"
      actions={
        <Button
          label="Put it aside"
          describe="Put aside why it was sent back"
          onPress={() => desk.change(({ sentBack: _, ...before }) => before)}
        />
      }
    >
      {`${sentBack.by} sent it back ${momentInWords(new Date(sentBack.at), now, zone)}: “${sentBack.sentence}”`}
    </Banner>
  );
}

/** What hinders the keeping, and the choice between two versions. */
function KeptElsewhere({ desk }: Pick<Props, 'desk'>) {
  return (
    <>
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
    </>
  );
}

/** At once: it can be had back. */
function RemoveDraft({ desk, draft }: Writing) {
  const [failed, setFailed] = useState<string | undefined>();
  const remove = async (): Promise<void> => {
    const goOn = fromHere();
    try {
      desk.change((before) => ({ ...before, removedAt: new Date().toISOString() }));
      await desk.keepNow();
      offerUndo(`“${draft.subject || 'A draft without a subject'}” is removed.`, () => restoreDraft(desk.id));
      goOn('/mail/drafts');
    } catch (problem) {
      desk.change(({ removedAt: _, ...before }) => before);
      setFailed(problemWords(problem));
    }
  };
  if (isBlank(draft)) return null;
  return (
    <>
      <Row>
        <Button kind="quiet" label="Remove this draft" onPress={() => void remove()} />
      </Row>
      <Result said={failed} />
    </>
  );
}

function Waiting({ waiting, now }: { waiting: NonNullable<Draft['waiting']>; now: Date }) {
  if (waiting.leavesAt === undefined)
    return (
      <Screen title="Sent for release">
        <Text>It leaves when somebody else has released it. To change it, take it back first.</Text>
        <Row>
          <Button
            kind="main"
            label="See where it stands"
            onPress={() => fromHere()(`/mail/waiting/${waiting.messageId}`)}
          />
        </Row>
      </Screen>
    );
  const leavesAt = new Date(waiting.leavesAt);
  return (
    <Screen title="Sent, and waiting to leave">
      <Text>
        {leavesAt > now
          ? `It leaves ${momentInWords(leavesAt, now, zone)}. To change it, take it back first.`
          : 'It has left.'}
      </Text>
      <Row>
        <Button kind="main" label="Look at the message" onPress={() => fromHere()(`/mail/${waiting.messageId}`)} />
      </Row>
    </Screen>
  );
}

const styles = StyleSheet.create({
  side: { flex: 1 },
  sideContent: { padding: space.l, paddingTop: space.xl },
  sideFoot: { gap: space.s, padding: space.l, borderTopWidth: border.hair, borderTopColor: colour.line },
  sheetFoot: { gap: space.s },
});
