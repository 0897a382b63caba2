/** What the scan saw in a message, beside its plan: where, with one press to look at the place and one to call it harmless. */
import { type Seen } from '@under-lock/core/scan/message';
import { border, Button, colour, radius, Row, Section, space, Stack, Text } from '@under-lock/ui';
import { useState, useSyncExternalStore } from 'react';
import { StyleSheet, View } from 'react-native';
import { type Watched } from '../../watched';
import { type Writing } from '../useWriting';
import { type HowFar, type SeenInDraft } from './useSeen';
import { pictureWords, seenWords, unreadSentences, whereWords } from './words';

/** More of one draft are behind a press. */
const SHOWN_FIRST = 6;

function SeenLine({ seen, said, onHarmless }: { seen: Seen; said: string; onHarmless: () => void }) {
  const [looking, setLooking] = useState(false);
  const { before, value, after } = seen.around;
  const what = `${said} ${whereWords(seen.where)}`;
  return (
    <View role="listitem" style={styles.line}>
      <Text>
        <Text kind="strong">{said}</Text>
        {seen.confidence === 'likely' ? ', as it seems' : ''}
      </Text>
      <Text kind="small" tone="soft">
        {seen.excerpt === '' ? whereWords(seen.where) : `${seen.excerpt} · ${whereWords(seen.where)}`}
      </Text>
      {looking ? (
        <Text kind="small" style={styles.around} selectable>
          {before}
          <Text kind="small" style={styles.value}>
            {value}
          </Text>
          {after}
        </Text>
      ) : null}
      <Row>
        <Button
          kind="quiet"
          label={looking ? 'Hide the place' : 'Show the place'}
          describe={`${looking ? 'Hide' : 'Show'} the place: ${what}`}
          expanded={looking}
          onPress={() => setLooking(!looking)}
        />
        <Button
          kind="quiet"
          label="Not what it looks like"
          describe={`Not what it looks like: ${what}`}
          onPress={onHarmless}
        />
      </Row>
    </View>
  );
}

function Looking({ name, far }: { name: string; far: Watched<HowFar> }) {
  const { pieces, picture } = useSyncExternalStore(far.watch, far.get);
  return (
    <Text kind="small" tone="soft" aria-live="polite">
      {picture === undefined ? `Looking into ${name}` : `Reading ${name}`}
      <Text kind="small" tone="soft" aria-hidden>
        {picture !== undefined ? `, picture ${picture}` : pieces > 0 ? `, ${pieces} parts so far` : ''}
      </Text>
    </Text>
  );
}

function FileLines({ files, look, stop }: SeenInDraft) {
  return (
    <>
      {files.map(({ file, state }) => {
        if (state?.at === 'looking')
          return (
            <Row key={file.blobId}>
              <Looking name={file.name} far={state.far} />
              <Button
                kind="quiet"
                label="Stop"
                describe={`Stop looking into ${file.name}`}
                onPress={() => stop(file.blobId)}
              />
            </Row>
          );
        if (state?.at === 'stopped' || state?.at === 'failed')
          return (
            <Row key={file.blobId}>
              <Text kind="small" tone="amber">
                {state.at === 'stopped'
                  ? `▲ ${file.name} was not looked into to its end.`
                  : `▲ ${file.name} was not looked into: ${state.sentence}`}
              </Text>
              <Button
                kind="quiet"
                label="Look again"
                describe={`Look again into ${file.name}`}
                onPress={() => void look(file)}
              />
            </Row>
          );
        if (state?.at !== 'seen') return null;
        const toRead = pictureWords(state.inside.unread);
        return (
          <View key={file.blobId}>
            {unreadSentences(state.inside.unread).map((sentence) => (
              <Text key={sentence} kind="small" tone="soft">
                {sentence}
              </Text>
            ))}
            {toRead === undefined ? null : state.read ? (
              <Text kind="small" tone="soft">
                Ten pictures of a file are read at most; what no browser shows is not.
              </Text>
            ) : (
              <Row>
                <Button
                  kind="quiet"
                  label={toRead}
                  describe={`${toRead}: ${file.name}`}
                  onPress={() => void look(file, { read: true })}
                />
              </Row>
            )}
            {state.inside.more ? (
              <Text kind="small" tone="amber">{`▲ There is more of this in ${file.name} than is listed here.`}</Text>
            ) : null}
          </View>
        );
      })}
    </>
  );
}

export function SeenInIt({ desk, seen, policy }: Writing) {
  const nameOf = (id: string): string | undefined =>
    [...policy.words, ...policy.patterns].find((one) => one.id === id)?.name;
  const [all, setAll] = useState(false);
  const { open, passed } = seen;
  const shown = all ? open : open.slice(0, SHOWN_FIRST);
  const harmless = (id: string): void =>
    desk.change((before) => ({ ...before, passedOver: [...new Set([...(before.passedOver ?? []), id])] }));
  const takeBack = (): void => desk.change(({ passedOver: _, ...before }) => before);
  const isBusy = seen.files.some(
    ({ state }) => state !== undefined && (state.at !== 'seen' || state.inside.unread.length > 0),
  );
  if (open.length === 0 && passed.length === 0 && !isBusy) return null;
  return (
    <Section title="Seen in it" {...(open.length === 0 ? {} : { aside: String(open.length) })}>
      <Stack>
        {open.length === 0 ? null : (
          <View role="list" aria-label="Seen in it">
            {shown.map((one, index) => (
              <SeenLine
                key={`${one.id} ${index}`}
                seen={one}
                said={seenWords(one, nameOf)}
                onHarmless={() => harmless(one.id)}
              />
            ))}
          </View>
        )}
        {open.length > shown.length ? (
          <Row>
            <Button kind="quiet" label={`${open.length - shown.length} more`} onPress={() => setAll(true)} />
          </Row>
        ) : null}
        <FileLines {...seen} />
        {passed.length === 0 ? null : (
          <Row>
            <Text kind="small" tone="soft">
              {`${passed.length === 1 ? 'One more was' : `${passed.length} more were`} called harmless.`}
            </Text>
            <Button kind="quiet" label="List them again" onPress={takeBack} />
          </Row>
        )}
        {open.length === 0 ? null : (
          <Text kind="small" tone="soft">
            Looked for: numbers with a check digit, credentials, dates of birth, lists, and the words that the office
            lists. What was seen stays in this browser; the office counts kinds.
          </Text>
        )}
      </Stack>
    </Section>
  );
}

const styles = StyleSheet.create({
  line: { paddingVertical: space.s, borderBottomWidth: border.hair, borderBottomColor: colour.line, gap: space.xs },
  around: {
    backgroundColor: colour.ground,
    borderRadius: radius.m,
    padding: space.m,
    overflowWrap: 'anywhere',
  } as object,
  value: { backgroundColor: colour.paleAmber, color: colour.ink } as object,
});
