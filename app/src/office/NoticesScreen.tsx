/** The office's notices: its own words by language, its colour, how they look, and the key its mail is signed with. */
import { putNoticeLook } from '@under-lock/contract/office';
import {
  isReadableColour,
  NOTICE_PARTS,
  type NoticeLook,
  type NoticePart,
  type NoticeTexts,
  OUR_LOOK,
  PART_RULES,
  textProblem,
} from '@under-lock/core/notice/look';
import { ourTexts } from '@under-lock/core/notice/notice';
import { LANGUAGES, type Language } from '@under-lock/core/language';
import {
  Banner,
  Button,
  Field,
  Line,
  Loading,
  Panel,
  Result,
  Row,
  type Said,
  Section,
  Select,
  space,
  Stack,
  Text,
} from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { mutate } from 'swr';
import { api } from '../api';
import { languageOptions, languageWords } from '../people/words';
import { problemWords } from '../problem-words';
import { AdministratorsOnly, toOffice as back } from './AdministratorsOnly';
import { Screen, useWide } from '../shell/Screen';
import { mayName, partWords, textProblemWords } from './look-words';
import { NoticePreview } from './NoticePreview';
import { SigningKeys } from './SigningKeys';
import { useOffice } from '../session/useOffice';

export const NoticesScreen = () => (
  <AdministratorsOnly title="Notices" sentence="Notices are worded by the office’s administrators.">
    <Notices />
  </AdministratorsOnly>
);

function Notices() {
  const { data: office, error } = useOffice();
  if (office === undefined)
    return (
      <Screen title="Notices" back={back}>
        {error === undefined ? (
          <Loading what="Fetching the notices" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  return <LookForm kept={office.look} />;
}

const same = (a: NoticeLook, b: NoticeLook): boolean =>
  JSON.stringify([a.colour.toLowerCase(), LANGUAGES.map((one) => a.texts[one] ?? null)]) ===
  JSON.stringify([b.colour.toLowerCase(), LANGUAGES.map((one) => b.texts[one] ?? null)]);

function colourProblem(colour: string): string | undefined {
  if (!/^#[\da-f]{6}$/i.test(colour)) return 'Six digits of a colour after #, for example #0E5A4C.';
  return isReadableColour(colour) ? undefined : 'White letters can’t be read on this. Choose a darker one.';
}

function wordsProblem(texts: NoticeTexts, part: NoticePart): string | undefined {
  const problem = textProblem(part, texts[part]);
  return problem === undefined ? undefined : textProblemWords(problem, part);
}

const isWrong = (texts: NoticeTexts | undefined): boolean =>
  texts !== undefined && NOTICE_PARTS.some((part) => wordsProblem(texts, part) !== undefined);

function Colour({ colour, onColour }: { colour: string; onColour: (colour: string) => void }) {
  const error = colourProblem(colour);
  return (
    <Section title="Colour">
      <Panel>
        <Line last>
          <Row style={styles.colour}>
            <View
              style={[styles.swatch, { backgroundColor: error === undefined ? colour : OUR_LOOK.colour }]}
              aria-hidden
            />
            <View style={styles.grow}>
              <Field
                label="Of the button and the reading room’s band"
                value={colour}
                onChangeText={(text) => onColour(text.trim())}
                code
                maxLength={7}
                autoCapitalize="none"
                error={error}
              />
            </View>
          </Row>
          {colour === OUR_LOOK.colour ? null : (
            <Row>
              <Button kind="quiet" label="Back to the sea-green" onPress={() => onColour(OUR_LOOK.colour)} />
            </Row>
          )}
        </Line>
      </Panel>
    </Section>
  );
}

interface WordsProps {
  language: Language;
  onLanguage: (language: Language) => void;
  /** Ours where there are none. */
  texts: NoticeTexts | undefined;
  onTexts: (texts: NoticeTexts | undefined) => void;
}

function Words({ language, onLanguage, texts, onTexts }: WordsProps) {
  return (
    <Section title="Words">
      <Panel>
        <Line last>
          <Stack>
            <Select label="Language" value={language} onChange={onLanguage} options={languageOptions} />
            {texts === undefined ? (
              <>
                <Text tone="soft">{`Notices in ${languageWords[language]} speak our words.`}</Text>
                <Row>
                  <Button label="Word them yourself" onPress={() => onTexts(ourTexts(language))} />
                </Row>
              </>
            ) : (
              <>
                {NOTICE_PARTS.map((part) => (
                  <Field
                    key={part}
                    label={partWords[part].label}
                    value={texts[part]}
                    onChangeText={(text) => onTexts({ ...texts, [part]: text })}
                    multiline={PART_RULES[part].lines}
                    maxLength={PART_RULES[part].max + 50}
                    hint={`${partWords[part].hint} ${mayName(part)}`}
                    error={wordsProblem(texts, part)}
                  />
                ))}
                <Row>
                  <Button kind="quiet" label="Back to our words" onPress={() => onTexts(undefined)} />
                </Row>
              </>
            )}
          </Stack>
        </Line>
      </Panel>
    </Section>
  );
}

function LookForm({ kept }: { kept: NoticeLook }) {
  const wide = useWide();
  const [look, setLook] = useState(kept);
  const [language, setLanguage] = useState<Language>('en');
  const [said, setSaid] = useState<Said | undefined>();
  const [busy, setBusy] = useState(false);
  const wrong = LANGUAGES.filter((one) => isWrong(look.texts[one]));
  const isReady = colourProblem(look.colour) === undefined && wrong.length === 0;
  const setTexts = (texts: NoticeTexts | undefined): void =>
    setLook((before) => {
      const { [language]: _, ...others } = before.texts;
      return { ...before, texts: texts === undefined ? others : { ...others, [language]: texts } };
    });
  const keep = async (): Promise<void> => {
    setBusy(true);
    setSaid(undefined);
    try {
      await api(putNoticeLook, { body: look });
      await mutate('office');
      setSaid({ tone: 'sea', text: 'Kept. Every notice from now on looks like this; what has left stays as it was.' });
    } catch (problem) {
      setSaid({ tone: 'brick', text: problemWords(problem) });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Screen title="Notices" back={back} broad>
      <Text tone="soft">
        What readers get by mail. You word it; the closing date, the identity check and the one link stand in every
        notice as they are.
      </Text>
      <View style={wide ? styles.columns : styles.stack}>
        <Stack style={wide ? styles.column : undefined}>
          <Colour colour={look.colour} onColour={(colour) => setLook({ ...look, colour })} />
          <Words language={language} onLanguage={setLanguage} texts={look.texts[language]} onTexts={setTexts} />
          <Result said={said} />
          {wrong.length === 0 || wrong.includes(language) ? null : (
            <Banner tone="amber">{`Something is still wrong in ${wrong.map((one) => languageWords[one]).join(' and ')}.`}</Banner>
          )}
          <Row>
            <Button
              kind="main"
              label="Keep the notices"
              onPress={() => void keep()}
              busy={busy}
              disabled={!isReady || same(look, kept)}
            />
            {same(look, kept) ? null : <Button kind="quiet" label="Undo the changes" onPress={() => setLook(kept)} />}
          </Row>
        </Stack>
        <Stack style={wide ? styles.column : undefined}>
          <NoticePreview look={isReady ? look : kept} stale={!isReady} language={language} />
        </Stack>
      </View>
      <SigningKeys />
    </Screen>
  );
}

const styles = StyleSheet.create({
  columns: { flexDirection: 'row', gap: space.xxl, alignItems: 'flex-start' },
  column: { flex: 1, minWidth: 0 },
  stack: { gap: space.xl },
  colour: { flexWrap: 'nowrap', alignItems: 'center' },
  swatch: { width: space.touch, height: space.touch },
  grow: { flex: 1 },
});
