/**
 * What the office says about locked files: its usual way, how strong passwords must be, exceptions by person and
 * domain, and the note in its own words.
 */
import { putFileRules } from '@under-lock/contract/file-lock';
import { TELLINGS, type Telling } from '@under-lock/core/ways/file-way';
import { PASSWORD_KINDS, type PasswordKind } from '@under-lock/core/ways/password-kind';
import { type FileRules, fileRulesProblem, OUR_RULES } from '@under-lock/core/locks/file/rules';
import { Banner, Button, Check, Choice, Field, Line, Loading, Panel, Row, Section, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { FileWayForm } from '../passwords/FileWayForm';
import { useFileRules } from '../passwords/useFileRules';
import { problemWords } from '../problem-words';
import { AdministratorsOnly, toOffice as back } from './AdministratorsOnly';
import { Screen } from '../shell/Screen';
import { CoverTexts } from './CoverTexts';
import { FileExceptions } from './FileExceptions';
import { rulesProblemWords } from './file-rules-words';
import { useOffice } from '../session/useOffice';

export const FileRulesScreen = () => (
  <AdministratorsOnly title="Locked files" sentence="The office’s administrators decide how locked files are made.">
    <FileRules />
  </AdministratorsOnly>
);

function FileRules() {
  const { data: rules, error } = useFileRules();
  const { data: office } = useOffice();
  if (rules === undefined || office === undefined)
    return (
      <Screen title="Locked files" back={back}>
        {error === undefined ? (
          <Loading what="Fetching the rules" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  return <RulesForm kept={rules} officeName={office.name} />;
}

/** Three marks on the scale of guesses, each said by what it stands. */
const STRENGTHS = [
  {
    value: '8',
    label: 'Not guessed by hand',
    detail: 'For people who can’t be asked to remember more; a stolen file is opened within a day',
  },
  {
    value: '12',
    label: 'Hard to guess',
    detail: 'A stolen file holds for weeks against one machine; four common words, or twelve characters',
  },
  {
    value: '16',
    label: 'Very hard to guess',
    detail: 'A stolen file holds for years; five words, or sixteen characters',
  },
] as const;

const kindWords: Record<PasswordKind, string> = { words: 'Words', characters: 'Characters' };
const habitWords: Record<Telling, string> = {
  phone: 'On the phone',
  text: 'By text message',
  agreed: 'Agreed beforehand',
};

const typesIn = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[\s,;]+/)
    .map((type) => type.replace(/^\./, ''))
    .filter((type) => type !== '');

function StoredTypes({ types, onChange }: { types: readonly string[]; onChange: (types: string[]) => void }) {
  const [text, setText] = useState(types.join(' '));
  // As it is typed, unless the rules have been put back.
  const shown = typesIn(text).join(' ') === types.join(' ') ? text : types.join(' ');
  const change = (next: string): void => {
    setText(next);
    onChange(typesIn(next));
  };
  return (
    <Field
      label="File types packed without compression"
      value={shown}
      onChangeText={change}
      autoCapitalize="none"
      maxLength={400}
      hint="Endings, separated by blanks, of files that packing would not make smaller. Pictures, films, archives and office documents are never compressed."
    />
  );
}

function RulesForm({ kept, officeName }: { kept: FileRules; officeName: string }) {
  const [rules, setRules] = useState(kept);
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<{ tone: 'sea' | 'brick'; text: string } | undefined>();
  const problem = fileRulesProblem(rules);
  const isSame = JSON.stringify(rules) === JSON.stringify(kept);
  const set = (change: Partial<FileRules>): void => setRules((before) => ({ ...before, ...change }));
  const keep = async (): Promise<void> => {
    setBusy(true);
    setSaid(undefined);
    try {
      await api(putFileRules, { body: rules });
      await mutate('file-rules');
      setSaid({
        tone: 'sea',
        text: 'Kept. Every locked file from now on is made so; what was chosen for a person stays theirs.',
      });
    } catch (cause) {
      setSaid({ tone: 'brick', text: problemWords(cause) });
    }
    setBusy(false);
  };
  return (
    <Screen title="Locked files" back={back}>
      <Text tone="soft">
        For people with neither certificate nor key: a file that opens with a password. Workers may choose otherwise for
        a person, within what you allow.
      </Text>
      <Section title="The usual way">
        <Panel>
          <Line last>
            <FileWayForm way={rules.usual} legacyAllowed={rules.legacyAllowed} onChange={(usual) => set({ usual })} />
          </Line>
        </Panel>
      </Section>
      <Section title="Passwords and ciphers">
        <Panel>
          <Line last>
            <Stack>
              <Check
                label="The legacy cipher of ZIP files"
                detail="Weak: whoever wants to breaks it in hours. Only where a partner can open nothing else; the plan warns each time"
                value={rules.legacyAllowed}
                onChange={(legacyAllowed) => set({ legacyAllowed })}
              />
              <Choice
                row
                label="Passwords made here are"
                value={rules.usual.passwords}
                onChange={(passwords) => set({ usual: { ...rules.usual, passwords } })}
                options={PASSWORD_KINDS.map((value) => ({ value, label: kindWords[value] }))}
              />
              <Choice
                label="They reach people"
                value={rules.usual.telling}
                onChange={(telling) => set({ usual: { ...rules.usual, telling } })}
                options={TELLINGS.map((value) => ({ value, label: habitWords[value] }))}
              />
              <Check
                label="They are kept in the password book"
                detail="Sealed in each worker’s vault; a worker may choose otherwise for a person"
                value={rules.usual.remember}
                onChange={(remember) => set({ usual: { ...rules.usual, remember } })}
              />
              <Choice
                label="Passwords must be"
                value={String(rules.leastGuesses)}
                onChange={(value) => set({ leastGuesses: Number(value) })}
                options={
                  STRENGTHS.some(({ value }) => value === String(rules.leastGuesses))
                    ? STRENGTHS
                    : [
                        ...STRENGTHS,
                        { value: String(rules.leastGuesses), label: `As it is (10^${rules.leastGuesses} guesses)` },
                      ]
                }
              />
            </Stack>
          </Line>
        </Panel>
      </Section>
      <Section title="Packing">
        <Panel>
          <Line last>
            <StoredTypes types={rules.storedTypes} onChange={(storedTypes) => set({ storedTypes })} />
          </Line>
        </Panel>
      </Section>
      <FileExceptions
        exceptions={rules.exceptions}
        legacyAllowed={rules.legacyAllowed}
        onChange={(exceptions) => set({ exceptions })}
      />
      <CoverTexts
        templates={rules.templates}
        officeName={officeName}
        container={rules.usual.container}
        onChange={(templates) => set({ templates })}
      />
      {problem === undefined ? null : <Banner tone="brick">{rulesProblemWords(problem)}</Banner>}
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      <Row>
        <Button
          kind="main"
          label="Keep the rules"
          onPress={() => void keep()}
          busy={busy}
          disabled={problem !== undefined || isSame}
        />
        {isSame ? null : <Button kind="quiet" label="Undo the changes" onPress={() => setRules(kept)} />}
        {JSON.stringify(rules) === JSON.stringify(OUR_RULES) ? null : (
          <Button kind="quiet" label="Begin with ours" onPress={() => setRules(OUR_RULES)} />
        )}
      </Row>
    </Screen>
  );
}
