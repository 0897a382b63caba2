/** One line of the list: from whom, until when, and what to do with it. */
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Button, Line, Row, StateMark, Text, TimeBar } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { language } from '../words/words';
import { named } from '../named';
import { zone } from '../zone';
import { askAgain, type Held, mark, remove } from './account';
import { toMessage } from './places';
import { listWords } from './words';

/** Runs it, and says what it returns or what goes wrong. */
export type Act = (task: () => Promise<string | undefined>) => Promise<void>;

const subjectOf = ({ subject, reference }: Held): string => subject ?? (reference || listWords.noSubject);

/** Its key is lost, and nobody was asked for it yet. */
export const isLost = ({ state, lost }: Held): boolean =>
  state === 'held' && lost !== undefined && lost.askedAt === undefined;

const opensHere = ({ state, lost, sealed }: Held): boolean =>
  state === 'held' && lost === undefined && sealed !== undefined;

function markOf({ state, unread, lost }: Held): { tone: 'wants' | 'done' | 'over' | 'stopped'; word: string } {
  if (state === 'withdrawn') return { tone: 'over', word: listWords.withdrawnMark };
  if (state === 'closed') return { tone: 'over', word: listWords.closedMark };
  if (lost !== undefined) return { tone: 'stopped', word: listWords.lostMark };
  return unread ? { tone: 'wants', word: listWords.newMark } : { tone: 'done', word: listWords.readMark };
}

/** Until when it can be read, or since when it can't. */
function Times({ item: { state, arrivedAt, closesAt, endedAt }, now }: { item: Held; now: Date }) {
  if (state !== 'held')
    return (
      <Text kind="small" tone="soft">
        {endedAt === undefined ? '' : listWords.ended(momentInWords(endedAt, now, zone, language))}
      </Text>
    );
  const whole = closesAt.getTime() - arrivedAt.getTime();
  return (
    <>
      <Text kind="small">
        {listWords.closes(momentInWords(closesAt, now, zone, language), distanceInWords(closesAt, now, zone, language))}
      </Text>
      <TimeBar left={whole <= 0 ? 0 : (closesAt.getTime() - now.getTime()) / whole} />
    </>
  );
}

/** Why it does not open here. */
function WhyNot({ item: { state, lost, sealed }, now }: { item: Held; now: Date }) {
  if (state !== 'held') return null;
  if (lost !== undefined)
    return (
      <Text
        kind="small"
        tone="brick"
      >{`■ ${lost.askedAt === undefined ? listWords.lost : listWords.asked(momentInWords(lost.askedAt, now, zone, language))}`}</Text>
    );
  return sealed === undefined ? (
    <Text kind="small" tone="soft">
      {listWords.byLink}
    </Text>
  ) : null;
}

/** What is wanted seldom. */
function MoreActs({ item, act }: { item: Held; act: Act }) {
  const { grantId, sealed, unread } = item;
  const subject = subjectOf(item);
  const other = unread ? listWords.markRead : listWords.markUnread;
  return (
    <Row>
      {opensHere(item) ? (
        <Button
          kind="quiet"
          label={other}
          describe={`${other}: ${subject}`}
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
  );
}

interface Props {
  item: Held;
  now: Date;
  last: boolean;
  act: Act;
}

export function HeldLine({ item, now, last, act }: Props) {
  const [open, setOpen] = useState(false);
  const { grantId, from, state, unread, arrivedAt } = item;
  const subject = subjectOf(item);
  const { tone, word } = markOf(item);
  const held = state === 'held';
  const more = open ? listWords.less : listWords.more;
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
      <Times item={item} now={now} />
      <WhyNot item={item} now={now} />
      <Row>
        {opensHere(item) ? (
          <Button label={listWords.open} describe={listWords.openThis(subject)} onPress={() => toMessage(grantId)} />
        ) : null}
        {isLost(item) ? (
          <Button
            label={listWords.askAgain(named(from))}
            onPress={() => void act(async () => listWords.askedNow((await askAgain([grantId])).asked))}
          />
        ) : null}
        <Button
          kind="quiet"
          label={more}
          describe={`${more}: ${subject}`}
          expanded={open}
          onPress={() => setOpen(!open)}
        />
      </Row>
      {open ? <MoreActs item={item} act={act} /> : null}
    </Line>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  subject: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
  wrap: { overflowWrap: 'anywhere' } as object,
});
