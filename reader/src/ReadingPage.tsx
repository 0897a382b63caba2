/**
 * The page one reads: the message, writing back, keeping it in a list, passing it on, and leaving. The same for readers
 * and for the sender's view of it.
 */
import { Stack, Text, TextButton } from '@under-lock/ui';
import { type RefObject, useCallback, useState } from 'react';
import { View } from 'react-native';
import { type ConfirmDoor, ConfirmPanel } from './ConfirmPanel';
import { type ChoosingDoor } from './choose/door';
import { ChooseOffer, ChoosePage } from './choose/later';
import { ForwardPanel } from './ForwardPanel';
import { KeepPanel } from './list/later';
import { type KeepDoor } from './list/account';
import { MessageView, type Use } from './MessageView';
import { type WritingDoor } from './replies';
import { type ReplyDraft } from './reply-draft';
import { ReplyPanel } from './ReplyPanel';
import { type Opened } from './visit';
import { words } from './words/words';

export interface ReadingDoors {
  writing: WritingDoor;
  keeping: KeepDoor;
  confirming: ConfirmDoor;
  /** Not where it is only looked at how they see it. */
  choosing?: ChoosingDoor;
}

export interface ReadingPageProps {
  opened: Opened;
  officeName: string;
  now: Date;
  pdfBase: string;
  doors: ReadingDoors;
  /** A reply being written outlives a new identity check. */
  draft: RefObject<ReplyDraft | undefined>;
  onUse: (what: Use) => Promise<unknown>;
  onLeave: () => void;
  onProblem: (error: unknown) => void;
}

export function ReadingPage({
  opened: { content, handling, reader, confirm, choose },
  officeName,
  now,
  pdfBase,
  doors,
  draft,
  onUse,
  onLeave,
  onProblem,
}: ReadingPageProps) {
  const [choosing, setChoosing] = useState(false);
  const back = useCallback(() => setChoosing(false), []);
  if (choosing && doors.choosing !== undefined)
    return (
      <ChoosePage
        door={doors.choosing}
        officeName={officeName}
        closesAt={handling.closesAt}
        now={now}
        onBack={back}
        onProblem={onProblem}
      />
    );
  return (
    <Stack>
      <MessageView
        content={content}
        handling={handling}
        reader={reader}
        officeName={officeName}
        now={now}
        pdfBase={pdfBase}
        onUse={onUse}
      />
      {confirm === undefined ? null : (
        <ConfirmPanel
          door={doors.confirming}
          sender={content.from}
          confirmedAt={confirm.at}
          now={now}
          onProblem={onProblem}
        />
      )}
      <ReplyPanel
        door={doors.writing}
        answered={content}
        reader={reader}
        rights={handling.rights}
        now={now}
        draft={draft}
        onProblem={onProblem}
      />
      {handling.rights.forward ? (
        <ForwardPanel door={doors.writing} handling={handling} now={now} onProblem={onProblem} />
      ) : null}
      {choose === true && doors.choosing !== undefined ? <ChooseOffer onChoose={() => setChoosing(true)} /> : null}
      {/* It comes late: nothing that is pressed stands below it but what leaves the page. */}
      <KeepPanel door={doors.keeping} reader={reader} subject={content.subject} />
      <View>
        <TextButton label={words.leave} onPress={onLeave} />
        <Text kind="small" tone="soft">
          {words.leaveHint}
        </Text>
      </View>
    </Stack>
  );
}
