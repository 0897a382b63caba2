/** What was found: people, keys and passwords by name, then messages, the newest first. */
import { receivedId } from '@under-lock/contract/received';
import { type Hit } from '@under-lock/core/search/scan';
import { listedInWords } from '@under-lock/core/when';
import { Banner, Button, Empty, Loading, Text } from '@under-lock/ui';
import { type ReactNode, useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import useSWR from 'swr';
import { useNow, zone } from '../clock';
import { told } from '../live/live';
import { problemWords } from '../problem-words';
import { type InReceived, receivedOf } from '../received/useReceived';
import { ReceivedLine } from '../received/ReceivedLine';
import { SentLine } from '../sent/SentLine';
import { type Sent, sentOf } from '../sent/useSent';
import { Listed } from '../shell/Listed';
import { ListLine } from '../shell/ListLine';
import { ListRow } from '../shell/ListScreen';
import { searchDoor } from '../threads/search/door';
import { isNarrowed, queryOf } from '../find/asked';
import { Filters } from '../find/Filters';
import { FoundDrafts } from './FoundDrafts';
import { FoundNames } from './FoundNames';
import { Marked } from '../find/Marked';
import { useAsked } from '../find/useAsked';
import { useFound } from '../find/useFound';

const PAGE = 30;

interface Shown {
  sent: ReadonlyMap<string, Sent>;
  received: ReadonlyMap<string, InReceived>;
}

/** As the server has them now; what it no longer has goes from the index. */
async function asTheyAre(hits: readonly Hit[]): Promise<Shown> {
  const idsOf = (isSent: boolean): string[] =>
    hits.filter(({ kind }) => (kind === 'sent') === isSent).map(({ id }) => id);
  const [sentIds, receivedIds] = [idsOf(true), idsOf(false)];
  const [sent, received] = await Promise.all([
    sentIds.length === 0 ? [] : sentOf(sentIds),
    receivedIds.length === 0 ? [] : receivedOf(receivedIds),
  ]);
  const shown = {
    sent: new Map(sent.map((message) => [message.id, message])),
    received: new Map(received.map((message) => [receivedId(message), message])),
  };
  const gone = hits.filter(({ id }) => !shown.sent.has(id) && !shown.received.has(id)).map(({ id }) => id);
  if (gone.length > 0) await searchDoor().drop(gone);
  return shown;
}

export function FoundList({ allFilters, filterButton }: { allFilters: boolean; filterButton: ReactNode }) {
  const { asked } = useAsked();
  const now = useNow();
  const [pages, setPages] = useState(1);
  useEffect(() => setPages(1), [asked]);
  const { found, busy, error } = useFound(asked, PAGE * pages);
  const hits = found?.hits ?? [];
  const { data: shown } = useSWR(
    hits.length === 0 ? null : ['found-messages', ...hits.map(({ id }) => id)],
    () => asInPages(hits),
    { keepPreviousData: true, use: [told('sent', 'received')] },
  );
  const query = queryOf(asked);
  return (
    <>
      {allFilters || isNarrowed(asked) ? (
        <ListRow>
          <Filters all={allFilters} />
        </ListRow>
      ) : null}
      <ListRow>
        <View role="status" style={styles.count}>
          <Text kind="small" tone="soft">
            {found === undefined ? 'Looking …' : `${found.total} found${busy ? ', still looking' : ''}`}
          </Text>
        </View>
        {filterButton}
      </ListRow>
      {error === undefined ? null : (
        <ListRow>
          <Banner tone="brick">{problemWords(error)}</Banner>
        </ListRow>
      )}
      <FoundNames query={asked.query} />
      {isNarrowed(asked) ? null : <FoundDrafts query={asked.query} />}
      {found === undefined ? (
        <Loading what="Looking through your mail" />
      ) : (
        <Listed
          items={hits}
          error={undefined}
          fetching=""
          empty={busy ? <Loading what="Looking through your mail" /> : <NothingFound />}
        >
          {(hit, last) => <HitLine key={hit.id} hit={hit} shown={shown} query={query} now={now} last={last} />}
        </Listed>
      )}
      {found === undefined || found.total <= hits.length ? null : (
        <ListRow>
          <Button label="Show older ones" onPress={() => setPages(pages + 1)} />
        </ListRow>
      )}
    </>
  );
}

const MOST_AT_ONCE = 50;
async function asInPages(hits: readonly Hit[]): Promise<Shown> {
  const sent = new Map<string, Sent>();
  const received = new Map<string, InReceived>();
  for (let at = 0; at < hits.length; at += MOST_AT_ONCE) {
    const page = await asTheyAre(hits.slice(at, at + MOST_AT_ONCE));
    for (const [id, message] of page.sent) sent.set(id, message);
    for (const [id, message] of page.received) received.set(id, message);
  }
  return { sent, received };
}

const NothingFound = () => (
  <Empty title="No message found">
    A message is found when each word begins one of its words, in subject, text, people or names of files. The text of
    what colleagues hold for you is looked through once you have opened it here.
  </Empty>
);

interface LineProps {
  hit: Hit;
  shown: Shown | undefined;
  query: string;
  now: Date;
  last: boolean;
}

/** At once as the index has it; with its state as soon as that is here. */
function HitLine({ hit, shown, query, now, last }: LineProps) {
  const { id, kind, subject, marks, people, reference, at, excerpt } = hit;
  const title = <Marked text={subject || '(no subject)'} marks={marks} />;
  const place =
    excerpt === undefined ? null : (
      <Text kind="small" numberOfLines={2}>
        <Marked text={excerpt.text} marks={excerpt.marks} />
      </Text>
    );
  const common = { now, last, title, query, children: place };
  const sent = shown?.sent.get(id);
  if (sent !== undefined) return <SentLine message={sent} {...common} />;
  const received = shown?.received.get(id);
  if (received !== undefined) return <ReceivedLine message={received} {...common} />;
  const path = { sent: '/mail', held: '/mail/received', mail: '/mail/in' }[kind];
  const names = people.map(({ name, address }) => name || address).join(', ');
  return (
    <ListLine
      href={`${path}/${id}${query}`}
      label={`${subject}, ${names}`}
      title={title}
      aside={listedInWords(new Date(at), now, zone)}
      about={`${names}${reference === '' ? '' : ` · ${reference}`}`}
      last={last}
      walked={kind === 'sent'}
    >
      {place}
    </ListLine>
  );
}

const styles = StyleSheet.create({ count: { flex: 1 } });
