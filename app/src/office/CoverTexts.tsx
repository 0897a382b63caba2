/** The note around a locked file in the office's own words, by language, with what it will read like. */
import { coverText, ourTemplate } from '@under-lock/core/locks/file/cover';
import { coverProblem, type CoverTemplates } from '@under-lock/core/locks/file/cover-rules';
import { type Container, OWN_EXTENSION } from '@under-lock/core/ways/file-way';
import { type Language } from '@under-lock/core/language';
import { Button, Field, Line, Panel, Prose, Row, Section, Select, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { languageOptions, languageWords } from '../people/words';
import { useOpenSession } from '../session/session';
import { coverMayName, coverProblemWords } from './file-rules-words';

interface Props {
  templates: CoverTemplates;
  officeName: string;
  container: Container;
  onChange: (templates: CoverTemplates) => void;
}

export function CoverTexts({ templates, officeName, container, onChange }: Props) {
  const { account } = useOpenSession();
  const [language, setLanguage] = useState<Language>('en');
  const own = templates[language];
  const problem = own === undefined ? undefined : coverProblem(own);
  const set = (text: string | undefined): void => {
    const { [language]: _, ...others } = templates;
    onChange(text === undefined ? others : { ...others, [language]: text });
  };
  const read = coverText({
    sender: account,
    recipient: { name: 'Pell Anders', address: 'pell.anders@postbox.example' },
    officeName,
    fileName: `2026-11-25 1430.${OWN_EXTENSION[container]}`,
    container,
    telling: 'phone',
    language,
    templates: problem === undefined ? templates : {},
  });
  return (
    <Section title="The note around it">
      <Text kind="small" tone="soft">
        Goes readable with every locked file: what it is, how its password comes, how it is opened on a phone and on a
        computer, whom to ring.
      </Text>
      <Panel>
        <Line last>
          <Stack>
            <Select label="Language of the note" value={language} onChange={setLanguage} options={languageOptions} />
            {own === undefined ? (
              <>
                <Text tone="soft">{`In ${languageWords[language]} it speaks our words.`}</Text>
                <Row>
                  <Button
                    label="Word it yourself"
                    describe={`Word it yourself: the note in ${languageWords[language]}`}
                    onPress={() => set(ourTemplate(language))}
                  />
                </Row>
              </>
            ) : (
              <>
                <Field
                  label={`The note in ${languageWords[language]}`}
                  value={own}
                  onChangeText={set}
                  multiline
                  maxLength={2_100}
                  hint={coverMayName}
                  error={problem === undefined ? undefined : coverProblemWords(problem)}
                />
                <Row>
                  <Button
                    kind="quiet"
                    label="Back to our words"
                    describe={`Back to our words: the note in ${languageWords[language]}`}
                    onPress={() => set(undefined)}
                  />
                </Row>
              </>
            )}
            <Text kind="label" tone="soft">
              {problem === undefined ? 'How it reads' : 'How ours reads'}
            </Text>
            <Prose>{read}</Prose>
          </Stack>
        </Line>
      </Panel>
    </Section>
  );
}
