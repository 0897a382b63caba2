/** What somebody decides by: the note, the plan, what was seen in it, and the message itself, opened in this browser. */
import { type AskedRelease } from '@under-lock/contract/release';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { type Closing } from '@under-lock/core/handling/closing-choice';
import { type Paper } from '@under-lock/core/release/paper';
import { type Where } from '@under-lock/core/scan/message';
import { momentInWords } from '@under-lock/core/when';
import {
  Banner,
  border,
  colour,
  Line,
  Loading,
  Panel,
  Progress,
  Row,
  Section,
  space,
  Stack,
  Text,
  TextButton,
} from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { type ReactNode, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import useSWR from 'swr';
import { useNow, zone } from '../clock';
import { checkWords, OPEN_SENTENCE, termsSentence } from '../handling/words';
import { usePresets } from '../handling/usePresets';
import { lockLabel, lockShapes } from '../locks/lock-words';
import { problemWords } from '../problem-words';
import { usePolicy } from '../rules/usePolicy';
import { MessageViewLater } from '../sent/MessageViewLater';
import { useOffice } from '../session/useOffice';
import { useOpenSession } from '../session/session';
import { callback, door } from '../threads/main/door';
import { seenWords, whereWords } from '../write/seen/words';

const SHOWN_PEOPLE = 20;

const closingWords: Record<Closing['kind'], string | undefined> = {
  'end-of-today': 'at the end of the day it leaves',
  'end-of-week': 'at the end of the week it leaves in',
  'two-weeks': 'two weeks after it leaves',
  'end-of-month': 'at the end of the month it leaves in',
  'end-of-quarter': 'at the end of the quarter it leaves in',
  exact: undefined,
};

/** @param children What may be done, above what is read. */
export function ToRelease({ asked, children }: { asked: AskedRelease; children: ReactNode }) {
  const { data: office } = useOffice();
  const { account } = useOpenSession();
  const now = useNow();
  const [done, setDone] = useState(0);
  const { data, error } = useSWR(['release', asked.id], () => door().release.open(asked.id, callback(setDone)), {
    revalidateOnFocus: false,
    revalidateIfStale: false,
    revalidateOnReconnect: false,
    shouldRetryOnError: false,
  });
  if (error !== undefined) return <Banner tone="brick">{problemWords(error)}</Banner>;
  if (data === undefined || office === undefined)
    return (
      <Panel>
        <Line last>
          <Loading what="Fetching and opening it in your browser" />
          <Progress done={done} label="Fetching and opening it in your browser" />
        </Line>
      </Panel>
    );
  const { paper, content } = data;
  return (
    <>
      {children}
      <Said paper={paper} />
      <WhoGetsIt paper={paper} now={now} />
      <SeenInIt paper={paper} />
      <Section title="The message">
        <Panel>
          <Line last>
            <MessageViewLater
              content={content}
              handling={{
                ...paper.terms,
                watermark: false,
                rights: { ...NO_RIGHTS, copy: true, save: true },
                closesAt: new Date(paper.closesAt),
              }}
              reader={account}
              officeName={office.name}
              now={now}
              pdfBase="/pdf"
              headingLevel={2}
              free
              onUse={async () => undefined}
            />
          </Line>
        </Panel>
      </Section>
    </>
  );
}

/** In the writer's own words. */
function Said({ paper: { note, reason, reference, confirmed } }: { paper: Paper }) {
  const said: [what: string, words: string][] = [
    ...(note === undefined ? [] : [['Note to you', note] as [string, string]]),
    ...(reason === undefined ? [] : [['Reason', reason] as [string, string]]),
    ...(reference === '' ? [] : [['Reference number', reference] as [string, string]]),
    ...confirmed.map((sentence): [string, string] => ['Answered with yes', sentence]),
  ];
  if (said.length === 0) return null;
  return (
    <Section title="What its writer says">
      <Panel>
        {said.map(([what, words], index) => (
          <Line key={`${what} ${words}`} last={index === said.length - 1}>
            <Text kind="small" tone="soft">
              {what}
            </Text>
            <Text selectable>{words}</Text>
          </Line>
        ))}
      </Panel>
    </Section>
  );
}

function WhoGetsIt({ paper, now }: { paper: Paper; now: Date }) {
  const { data: presets } = usePresets();
  const { recipients, terms, presetId, closing, closesAt, leavesAt } = paper;
  const [all, setAll] = useState(false);
  const counted = closing === undefined ? undefined : closingWords[closing.kind];
  const preset = presets?.find(({ id }) => id === presetId)?.name;
  return (
    <Section title="Who gets it" aside={String(recipients.length)}>
      <Panel>
        <Line>
          <Text>
            {[
              ...(preset === undefined ? [] : [`${preset}.`]),
              ...(terms.clear
                ? [OPEN_SENTENCE]
                : [
                    counted === undefined
                      ? `It closes ${momentInWords(new Date(closesAt), now, zone)}.`
                      : `It closes ${counted}.`,
                    termsSentence(terms),
                  ]),
            ].join(' ')}
          </Text>
          <Text kind="small" tone="soft">
            {leavesAt === undefined
              ? 'It leaves as soon as it is released.'
              : `It is to leave ${momentInWords(new Date(leavesAt), now, zone)}, or when it is released, if that is later.`}
          </Text>
        </Line>
        <View role="list" aria-label="Who gets it">
          {(all ? recipients : recipients.slice(0, SHOWN_PEOPLE)).map(
            ({ name, address, role, lock, check }, index, shown) => (
              <View key={address} role="listitem" style={[styles.person, index < shown.length - 1 && styles.between]}>
                <LockShape shape={lockShapes[lock]} state="filled" />
                <View style={styles.words}>
                  <Text kind="strong">{name || address}</Text>
                  <Text kind="small" tone="soft" style={styles.wrap}>
                    {[
                      ...(name === '' ? [] : [address]),
                      ...(role === 'to' ? [] : [role === 'cc' ? 'in copy' : 'unseen by the others']),
                      lockLabel(lock, terms.clear),
                      ...(check === undefined
                        ? []
                        : [
                            `${checkWords[check.kind]}${check.hint === undefined || check.hint === '' ? '' : ` to ${check.hint}`}`,
                          ]),
                    ].join(' · ')}
                  </Text>
                </View>
              </View>
            ),
          )}
        </View>
        {recipients.length > SHOWN_PEOPLE && !all ? (
          <Line last>
            <Row>
              <TextButton label={`Show all ${recipients.length}`} onPress={() => setAll(true)} />
            </Row>
          </Line>
        ) : null}
      </Panel>
    </Section>
  );
}

function SeenInIt({ paper: { seen, more, unread } }: { paper: Paper }) {
  const { data: policy } = usePolicy();
  const nameOf = (id: string): string | undefined =>
    [...(policy?.words ?? []), ...(policy?.patterns ?? [])].find((one) => one.id === id)?.name;
  if (seen.length + unread.length === 0)
    return (
      <Section title="Seen in it" aside="0">
        <Text kind="small" tone="soft">
          Nothing that the office looks for was seen in it.
        </Text>
      </Section>
    );
  return (
    <Section title="Seen in it" aside={`${seen.length}${more ? ' and more' : ''}`}>
      <Stack style={styles.seen}>
        <View role="list" aria-label="Seen in it">
          {seen.map((one, index) => (
            <View key={`${one.id} ${index}`} role="listitem" style={styles.finding}>
              <Text>
                <Text kind="strong">{seenWords(one, nameOf)}</Text>
                {`${one.confidence === 'likely' ? ', as it seems' : ''}, ${whereWords(one.where as Where)}`}
              </Text>
              <Text kind="small" tone="soft" selectable style={styles.wrap}>
                {one.around.before}
                <Text kind="small">{one.around.value}</Text>
                {one.around.after}
              </Text>
            </View>
          ))}
        </View>
        {unread.map((name) => (
          <Text key={name} kind="small" tone="amber">{`▲ ${name} could not be looked into, or not all of it.`}</Text>
        ))}
      </Stack>
    </Section>
  );
}

const styles = StyleSheet.create({
  person: {
    flexDirection: 'row',
    gap: space.m,
    padding: space.l,
  },
  between: { borderBottomWidth: border.hair, borderBottomColor: colour.line },
  words: { flex: 1, minWidth: 0 },
  wrap: { overflowWrap: 'anywhere' } as object,
  seen: { gap: space.s },
  finding: {
    paddingVertical: space.s,
    paddingLeft: space.m,
    borderLeftWidth: border.bar,
    borderLeftColor: colour.amber,
    marginBottom: space.s,
  },
});
