/** The list: searched, ordered, by sender; every line says until when, and what to do with it. */
import { HELD_SORTS, type HeldSort, UNREAD_SHOWN } from '@under-lock/contract/registered';
import { isProblem } from '@under-lock/contract/problem';
import {
  Banner,
  Button,
  Choice,
  Empty,
  Field,
  Heading,
  Loading,
  Panel,
  Result,
  Row,
  type Said,
  space,
  Stack,
  StateMark,
} from '@under-lock/ui';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useNow } from '../clock';
import { named } from '../named';
import { words } from '../words/words';
import { askAgain, type KeptDraft, type Session } from './account';
import { DraftList, refreshDrafts } from './DraftList';
import { type Act, HeldLine, isLost } from './HeldLine';
import { sayProblem } from './problems';
import { useHeld } from './useHeld';
import { listWords } from './words';
import { WritePanel } from './WritePanel';
import { refreshWritten } from './WrittenList';

/** A list this short is seen at a glance. */
const FEW = 5;

interface Narrowed {
  sort: HeldSort;
  /** One of the senders; empty for everybody. */
  sender: string;
  search: string;
}

type HeldItems = ReturnType<typeof useHeld>;

/** By order and sender. */
function Order({
  narrowed: { sort, sender },
  narrow,
  senders,
}: {
  narrowed: Narrowed;
  narrow: (change: Partial<Narrowed>) => void;
  senders: HeldItems['senders'];
}) {
  return (
    <View style={styles.choices}>
      <Choice
        label={listWords.sort}
        value={sort}
        onChange={(next) => narrow({ sort: next })}
        options={HELD_SORTS.map((value) => ({ value, label: listWords.sorts[value] }))}
      />
      {senders === undefined || senders.length < 2 ? null : (
        <Choice
          label={listWords.sender}
          value={sender}
          onChange={(next) => narrow({ sender: next })}
          options={[
            { value: '', label: listWords.everybody },
            ...senders.map((one) => ({ value: one.id, label: named(one) })),
          ]}
        />
      )}
    </View>
  );
}

interface FoundProps {
  held: HeldItems;
  isNarrowed: boolean;
  act: Act;
}

/** What was found, or why nothing was. */
function Found({ held: { found, error, more, busy, showMore }, isNarrowed, act }: FoundProps) {
  const now = useNow();
  if (found === undefined) return error === undefined ? <Loading what={listWords.loading} /> : null;
  return (
    <>
      <Panel>
        {found.length === 0 ? (
          <Empty title={isNarrowed ? listWords.noneFound : listWords.nothing}>
            {isNarrowed ? listWords.noneFoundHint : listWords.nothingHint}
          </Empty>
        ) : null}
        {found.map((item, index) => (
          <HeldLine key={item.grantId} item={item} now={now} last={index === found.length - 1} act={act} />
        ))}
      </Panel>
      {more ? (
        <Row>
          <Button label={listWords.older} onPress={showMore} busy={busy} />
        </Row>
      ) : null}
    </>
  );
}
interface WritingProps {
  session: Session;
  writing: { id: string; draft?: KeptDraft };
  held: HeldItems;
  onOver: (said?: Said) => void;
}

/** Nothing is written before it is known to whom it can be. */
function Writing({ session, writing: { id, draft }, held: { senders, maxBytes }, onOver }: WritingProps) {
  if (senders === undefined || maxBytes === undefined) return null;
  return (
    <WritePanel
      key={id}
      id={id}
      draft={draft}
      session={session}
      senders={senders}
      maxBytes={maxBytes}
      onClose={(kept) => {
        void refreshDrafts(session);
        if (kept === undefined) return onOver();
        onOver({ tone: 'sea', text: kept === 'whole' ? listWords.draftKept : listWords.draftKeptWithout });
      }}
      onSent={(name) => {
        void refreshWritten(session);
        void refreshDrafts(session);
        onOver({ tone: 'sea', text: listWords.writeSent(name) });
      }}
    />
  );
}

interface ActsProps {
  held: HeldItems;
  act: Act;
  choosing: boolean;
  onWrite: () => void;
  /** Where there is enough to be narrowed. */
  onChoose: (() => void) | undefined;
}

/** Above the list: writing, narrowing, and asking again for all that is lost. */
function Acts({ held: { items, senders }, act, choosing, onWrite, onChoose }: ActsProps) {
  const lost = items?.filter(isLost) ?? [];
  return (
    <Row>
      {senders === undefined || senders.length === 0 ? null : <Button label={listWords.write} onPress={onWrite} />}
      {onChoose === undefined ? null : (
        <Button kind="quiet" label={listWords.orderAndSender} expanded={choosing} onPress={onChoose} />
      )}
      {lost.length > 1 ? (
        <Button
          label={listWords.askAll(lost.length)}
          onPress={() =>
            void act(async () => listWords.askedNow((await askAgain(lost.map(({ grantId }) => grantId))).asked))
          }
        />
      ) : null}
    </Row>
  );
}
function Head({ session, unread }: { session: Session; unread: number | undefined }) {
  return (
    <>
      <Row style={styles.between}>
        <Heading level={1}>{listWords.list}</Heading>
        {unread === undefined || unread === 0 ? null : (
          <StateMark tone="wants" word={listWords.unread(unread, unread >= UNREAD_SHOWN)} />
        )}
      </Row>
      {session.unproven ? <Banner tone="amber">{listWords.unproven}</Banner> : null}
    </>
  );
}

export function HeldList({ session, onSignedOut }: { session: Session; onSignedOut: () => void }) {
  const [narrowed, setNarrowed] = useState<Narrowed>({ sort: 'newest', sender: '', search: '' });
  const narrow = (change: Partial<Narrowed>): void => setNarrowed((before) => ({ ...before, ...change }));
  const [choosing, setChoosing] = useState(false);
  const [writing, setWriting] = useState<WritingProps['writing'] | undefined>();
  const [said, setSaid] = useState<Said | undefined>();
  const held = useHeld(session, narrowed);
  const { items, unread, more, error, searched, refresh } = held;
  const { search, sender } = narrowed;
  useEffect(() => {
    if (isProblem(error, 'not-signed-in')) onSignedOut();
  }, [error, onSignedOut]);
  const act: Act = async (task) => {
    setSaid(undefined);
    try {
      const text = await task();
      if (text !== undefined) setSaid({ tone: 'sea', text });
    } catch (problem) {
      setSaid({ tone: 'brick', text: sayProblem(problem) });
    }
    refresh();
  };
  const isNarrowed = search !== '' || sender !== '';
  const searchable = (items?.length ?? 0) > FEW || more || isNarrowed;
  const over: WritingProps['onOver'] = (then) => {
    setWriting(undefined);
    if (then !== undefined) setSaid(then);
  };
  const choose = searchable ? () => setChoosing(!choosing) : undefined;
  const write = (): void => setWriting({ id: crypto.randomUUID() });
  return (
    <Stack>
      <Head session={session} unread={unread} />
      <Result said={said} />
      {error === undefined || isProblem(error, 'not-signed-in') ? null : (
        <Banner tone="brick" actions={<Button label={words.tryAgain} onPress={refresh} />}>
          {sayProblem(error)}
        </Banner>
      )}
      {writing === undefined ? (
        <>
          <Acts held={held} act={act} choosing={choosing} onWrite={write} onChoose={choose} />
          <DraftList session={session} onOpen={(draft) => setWriting({ id: draft.id, draft })} />
        </>
      ) : (
        <Writing session={session} writing={writing} held={held} onOver={over} />
      )}
      {searchable ? (
        <Field
          label={listWords.search}
          value={search}
          onChangeText={(text) => narrow({ search: text })}
          maxLength={200}
          autoComplete="off"
          {...(search === '' || searched === undefined ? {} : { hint: listWords.searched(searched) })}
        />
      ) : null}
      {choosing && searchable ? <Order narrowed={narrowed} narrow={narrow} senders={held.senders} /> : null}
      <Found held={held} isNarrowed={isNarrowed} act={act} />
    </Stack>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  choices: { gap: space.l },
});
