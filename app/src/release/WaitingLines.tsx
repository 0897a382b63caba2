/** Mail › Waiting: what waits for one's own word first, then one's own. */
import { type AskedRelease } from '@under-lock/contract/release';
import { listedInWords } from '@under-lock/core/when';
import { Empty, StateMark } from '@under-lock/ui';
import { useNow, zone } from '../clock';
import { listed } from '../handling/words';
import { peopleCount } from '../people/words';
import { subjectOf } from '../sent/useSent';
import { Listed } from '../shell/Listed';
import { ListLine } from '../shell/ListLine';
import { type OpenedRelease, useReleases } from './useReleases';

type Waiting = { is: 'asked'; one: AskedRelease } | { is: 'own'; one: OpenedRelease };

const NothingWaits = () => (
  <Empty title="Nothing waits">
    Where a rule of the office wants somebody else to look at a message before it leaves, it waits here until it is
    released or sent back.
  </Empty>
);

export function WaitingLines() {
  const now = useNow();
  const { data, error } = useReleases();
  const waiting: Waiting[] | undefined = data && [
    ...data.asked.map((one) => ({ is: 'asked' as const, one })),
    ...data.own.map((one) => ({ is: 'own' as const, one })),
  ];
  return (
    <Listed items={waiting} error={error} fetching="Looking for what waits" empty={<NothingWaits />}>
      {(each, last) =>
        each.is === 'asked' ? (
          <AskedLine key={each.one.id} asked={each.one} now={now} last={last} />
        ) : (
          <OwnLine key={each.one.id} own={each.one} now={now} last={last} />
        )
      }
    </Listed>
  );
}

function AskedLine({ asked, now, last }: { asked: AskedRelease; now: Date; last: boolean }) {
  const { id, from, people, rules, askedAt } = asked;
  return (
    <ListLine
      href={`/mail/waiting/${id}`}
      label={`From ${from.name}, waits for your release`}
      title={`From ${from.name}`}
      aside={listedInWords(askedAt, now, zone)}
      about={`To ${peopleCount(people)} · ${listed(rules, 'and')}`}
      mark={<StateMark tone="wants" word="Waits for you" />}
      last={last}
    />
  );
}

function OwnLine({ own, now, last }: { own: OpenedRelease; now: Date; last: boolean }) {
  const { id, opened, people, rules, askedAt, state, decidedAt } = own;
  const isBack = state === 'sent-back';
  return (
    <ListLine
      href={`/mail/waiting/${id}`}
      label={`${subjectOf(opened)}, ${isBack ? 'sent back to you' : 'waits for release'}`}
      title={subjectOf(opened)}
      aside={listedInWords(decidedAt ?? askedAt, now, zone)}
      about={`To ${peopleCount(people)} · ${listed(rules, 'and')}`}
      mark={isBack ? <StateMark tone="stopped" word="Sent back" /> : <StateMark tone="over" word="Waits for release" />}
      last={last}
    />
  );
}
