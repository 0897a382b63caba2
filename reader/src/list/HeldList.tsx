/** The list: searched, ordered, by sender; every line says until when, and what to do with it. */
import { HELD_SORTS, type HeldSort, UNREAD_SHOWN } from '@under-lock/contract/registered';
import { isProblem } from '@under-lock/contract/problem';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Choice,
  Empty,
  Field,
  Heading,
  Line,
  Loading,
  Panel,
  Row,
  space,
  Stack,
  StateMark,
  Text,
  TimeBar,
} from '@under-lock/ui';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useNow } from '../clock';
import { language, words } from '../words/words';
import { askAgain, type Held, type KeptDraft, mark, remove, type Session } from './account';
import { toMessage } from './places';
import { sayProblem } from './problems';
import { useHeld } from './useHeld';
import { listWords } from './words';
import { WritePanel } from './WritePanel';
import { DraftList, refreshDrafts } from './DraftList';
import { refreshWritten } from './WrittenList';
import { zone } from '../zone';

const named = ({ name, address }: { name: string; address: string }): string => name || address;
const subjectOf = ({ subject, reference }: Held): string => subject ?? (reference || listWords.noSubject);
/** A list this short is seen at a glance. */
const FEW = 5;

export function HeldList({ session, onSignedOut }: { session: Session; onSignedOut: () => void }) {
  const now = useNow();
  const [sort, setSort] = useState<HeldSort>('newest');
  const [sender, setSender] = useState<string>('');
  const [search, setSearch] = useState('');
  const [choosing, setChoosing] = useState(false);
  const [writing, setWriting] = useState<{ id: string; draft?: KeptDraft } | undefined>();
  const [said, setSaid] = useState<{ tone: 'sea' | 'brick'; text: string } | undefined>();
  const { items, found, senders, unread, maxBytes, more, error, searched, showMore, busy, refresh } = useHeld(session, {
    sort,
    sender,
    search,
  });
  useEffect(() => {
    if (isProblem(error, 'not-signed-in')) onSignedOut();
  }, [error, onSignedOut]);
  const act = async (task: () => Promise<string | undefined>): Promise<void> => {
    setSaid(undefined);
    try {
      const text = await task();
      if (text !== undefined) setSaid({ tone: 'sea', text });
    } catch (problem) {
      setSaid({ tone: 'brick', text: sayProblem(problem) });
    }
    refresh();
  };
  const lost =
    items?.filter(({ state, lost: gone }) => state === 'held' && gone !== undefined && gone.askedAt === undefined) ??
    [];
  const searchable = (items?.length ?? 0) > FEW || more || search !== '' || sender !== '';
  return (
    <Stack>
      <Row style={styles.between}>
        <Heading level={1}>{listWords.list}</Heading>
        {unread === undefined || unread === 0 ? null : (
          <StateMark tone="wants" word={listWords.unread(unread, unread >= UNREAD_SHOWN)} />
        )}
      </Row>
      {session.unproven ? <Banner tone="amber">{listWords.unproven}</Banner> : null}
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      {error === undefined || isProblem(error, 'not-signed-in') ? null : (
        <Banner tone="brick" actions={<Button label={words.tryAgain} onPress={refresh} />}>
          {sayProblem(error)}
        </Banner>
      )}
      {writing !== undefined && senders !== undefined && maxBytes !== undefined ? (
        <WritePanel
          key={writing.id}
          id={writing.id}
          draft={writing.draft}
          session={session}
          senders={senders}
          maxBytes={maxBytes}
          onClose={(kept) => {
            void refreshDrafts(session);
            setWriting(undefined);
            if (kept === undefined) return;
            setSaid({ tone: 'sea', text: kept === 'whole' ? listWords.draftKept : listWords.draftKeptWithout });
          }}
          onSent={(name) => {
            void refreshWritten(session);
            void refreshDrafts(session);
            setWriting(undefined);
            setSaid({ tone: 'sea', text: listWords.writeSent(name) });
          }}
        />
      ) : (
        <Row>
          {senders === undefined || senders.length === 0 ? null : (
            <Button label={listWords.write} onPress={() => setWriting({ id: crypto.randomUUID() })} />
          )}
          {searchable ? (
            <Button
              kind="quiet"
              label={listWords.orderAndSender}
              expanded={choosing}
              onPress={() => setChoosing(!choosing)}
            />
          ) : null}
          {lost.length > 1 ? (
            <Button
              label={listWords.askAll(lost.length)}
              onPress={() =>
                void act(async () => listWords.askedNow((await askAgain(lost.map(({ grantId }) => grantId))).asked))
              }
            />
          ) : null}
        </Row>
      )}
      {writing === undefined ? (
        <DraftList session={session} onOpen={(draft) => setWriting({ id: draft.id, draft })} />
      ) : null}
      {searchable ? (
        <Field
          label={listWords.search}
          value={search}
          onChangeText={setSearch}
          maxLength={200}
          autoComplete="off"
          {...(search === '' || searched === undefined ? {} : { hint: listWords.searched(searched) })}
        />
      ) : null}
      {choosing && searchable ? (
        <View style={styles.choices}>
          <Choice
            label={listWords.sort}
            value={sort}
            onChange={setSort}
            options={HELD_SORTS.map((value) => ({ value, label: listWords.sorts[value] }))}
          />
          {senders === undefined || senders.length < 2 ? null : (
            <Choice
              label={listWords.sender}
              value={sender}
              onChange={setSender}
              options={[
                { value: '', label: listWords.everybody },
                ...senders.map((one) => ({ value: one.id, label: named(one) })),
              ]}
            />
          )}
        </View>
      ) : null}
      {found === undefined ? (
        error === undefined ? (
          <Loading what={listWords.loading} />
        ) : null
      ) : (
        <Panel>
          {found.length === 0 ? (
            <Empty title={search === '' && sender === '' ? listWords.nothing : listWords.noneFound}>
              {search === '' && sender === '' ? listWords.nothingHint : listWords.noneFoundHint}
            </Empty>
          ) : null}
          {found.map((item, index) => (
            <HeldLine key={item.grantId} item={item} now={now} last={index === found.length - 1} act={act} />
          ))}
        </Panel>
      )}
      {more ? (
        <Row>
          <Button label={listWords.older} onPress={showMore} busy={busy} />
        </Row>
      ) : null}
    </Stack>
  );
}

function markOf({ state, unread, lost }: Held): { tone: 'wants' | 'done' | 'over' | 'stopped'; word: string } {
  if (state === 'withdrawn') return { tone: 'over', word: listWords.withdrawnMark };
  if (state === 'closed') return { tone: 'over', word: listWords.closedMark };
  if (lost !== undefined) return { tone: 'stopped', word: listWords.lostMark };
  return unread ? { tone: 'wants', word: listWords.newMark } : { tone: 'done', word: listWords.readMark };
}

function HeldLine({
  item,
  now,
  last,
  act,
}: {
  item: Held;
  now: Date;
  last: boolean;
  act: (task: () => Promise<string | undefined>) => Promise<void>;
}) {
  const [open, setOpen] = useState(false);
  const { grantId, from, state, lost, sealed, unread, arrivedAt, closesAt, endedAt } = item;
  const subject = subjectOf(item);
  const { tone, word } = markOf(item);
  const held = state === 'held';
  const canOpen = held && lost === undefined && sealed !== undefined;
  const whole = closesAt.getTime() - arrivedAt.getTime();
  return (
    <Line last={last} testID={`held-${grantId}`}>
      <Row style={styles.between}>
        <Text kind={unread && held ? 'strong' : 'body'} tone={held ? 'ink' : 'soft'} style={styles.subject}>
          {subject}
        </Text>
        <StateMark tone={tone} word={word} />
      </Row>
      <Text kind="small" tone="soft" style={styles.wrap}>
        {listWords.arrived(named(from), momentInWords(arrivedAt, now, zone, language))}
        {item.reference === '' || item.subject === undefined ? '' : ` · ${item.reference}`}
      </Text>
      {held ? (
        <>
          <Text kind="small">
            {listWords.closes(
              momentInWords(closesAt, now, zone, language),
              distanceInWords(closesAt, now, zone, language),
            )}
          </Text>
          <TimeBar left={whole <= 0 ? 0 : (closesAt.getTime() - now.getTime()) / whole} />
        </>
      ) : (
        <Text kind="small" tone="soft">
          {endedAt === undefined ? '' : listWords.ended(momentInWords(endedAt, now, zone, language))}
        </Text>
      )}
      {held && lost !== undefined ? (
        <Text
          kind="small"
          tone="brick"
        >{`■ ${lost.askedAt === undefined ? listWords.lost : listWords.asked(momentInWords(lost.askedAt, now, zone, language))}`}</Text>
      ) : null}
      {held && lost === undefined && sealed === undefined ? (
        <Text kind="small" tone="soft">
          {listWords.byLink}
        </Text>
      ) : null}
      <Row>
        {canOpen ? (
          <Button label={listWords.open} describe={listWords.openThis(subject)} onPress={() => toMessage(grantId)} />
        ) : null}
        {held && lost !== undefined && lost.askedAt === undefined ? (
          <Button
            label={listWords.askAgain(named(from))}
            onPress={() => void act(async () => listWords.askedNow((await askAgain([grantId])).asked))}
          />
        ) : null}
        <Button
          kind="quiet"
          label={open ? listWords.less : listWords.more}
          describe={`${open ? listWords.less : listWords.more}: ${subject}`}
          expanded={open}
          onPress={() => setOpen(!open)}
        />
      </Row>
      {open ? (
        <Row>
          {canOpen ? (
            <Button
              kind="quiet"
              label={unread ? listWords.markRead : listWords.markUnread}
              describe={`${unread ? listWords.markRead : listWords.markUnread}: ${subject}`}
              onPress={() =>
                void act(async () => {
                  await mark(grantId, !unread);
                  return undefined;
                })
              }
            />
          ) : null}
          <Button
            kind="quiet"
            label={listWords.remove}
            describe={listWords.removeThis(subject)}
            onPress={() =>
              void act(async () => {
                await remove(grantId);
                return sealed === undefined ? listWords.removed : listWords.removedHere;
              })
            }
          />
        </Row>
      ) : null}
    </Line>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  subject: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
  wrap: { overflowWrap: 'anywhere' } as object,
  choices: { gap: space.l },
});
