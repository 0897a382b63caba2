/**
 * What the office says about locked files: its usual way, how strong passwords must be, exceptions by person and
 * domain, and the note in its own words.
 */
import { putFileRules } from '@under-lock/contract/file-lock';
import { TELLINGS, type Telling } from '@under-lock/core/ways/file-way';
import { PASSWORD_KINDS, type PasswordKind } from '@under-lock/core/ways/password-kind';
import { type FileRules, fileRulesProblem, OUR_RULES } from '@under-lock/core/locks/file/rules';
import { Banner, Button, Check, Choice, Field, Loading, Result, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { FileWayForm } from '../passwords/FileWayForm';
import { useFileRules } from '../passwords/useFileRules';
import { problemWords } from '../problem-words';
import { useAttempt } from '../shell/useAttempt';
import { AdministratorsOnly, toOffice as back } from './AdministratorsOnly';
import { InPanel } from '../shell/InPanel';
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

function useKeeping(kept: FileRules) {
  const [rules, setRules] = useState(kept);
  const { busy, said, say, attempt } = useAttempt();
  const keep = (): Promise<void> =>
    attempt(async () => {
      await api(putFileRules, { body: rules });
      await mutate('file-rules');
      say({
        tone: 'sea',
        text: 'Kept. Every locked file from now on is made so; what was chosen for a person stays theirs.',
      });
    });
  const set = (change: Partial<FileRules>): void => setRules((before) => ({ ...before, ...change }));
  return { rules, setRules, set, busy, said, keep };
}

interface PartProps {
  rules: FileRules;
  set: (change: Partial<FileRules>) => void;
}

/** Those that are offered, and what is in force where it is none of them. */
const strengths = (leastGuesses: number) =>
  STRENGTHS.some(({ value }) => value === String(leastGuesses))
    ? STRENGTHS
    : [...STRENGTHS, { value: String(leastGuesses), label: `As it is (10^${leastGuesses} guesses)` }];

function Passwords({ rules: { usual, legacyAllowed, leastGuesses }, set }: PartProps) {
  const change = (changed: Partial<FileRules['usual']>): void => set({ usual: { ...usual, ...changed } });
  return (
    <>
      <Check
        label="The legacy cipher of ZIP files"
        detail="Weak: whoever wants to breaks it in hours. Only where a partner can open nothing else; the plan warns each time"
        value={legacyAllowed}
        onChange={(allowed) => set({ legacyAllowed: allowed })}
      />
      <Choice
        row
        label="Passwords made here are"
        value={usual.passwords}
        onChange={(passwords) => change({ passwords })}
        options={PASSWORD_KINDS.map((value) => ({ value, label: kindWords[value] }))}
      />
      <Choice
        label="They reach people"
        value={usual.telling}
        onChange={(telling) => change({ telling })}
        options={TELLINGS.map((value) => ({ value, label: habitWords[value] }))}
      />
      <Check
        label="They are kept in the password book"
        detail="Sealed in each worker’s vault; a worker may choose otherwise for a person"
        value={usual.remember}
        onChange={(remember) => change({ remember })}
      />
      <Choice
        label="Passwords must be"
        value={String(leastGuesses)}
        onChange={(value) => set({ leastGuesses: Number(value) })}
        options={strengths(leastGuesses)}
      />
    </>
  );
}

const isSame = (one: FileRules, other: FileRules): boolean => JSON.stringify(one) === JSON.stringify(other);

function RulesForm({ kept, officeName }: { kept: FileRules; officeName: string }) {
  const { rules, setRules, set, busy, said, keep } = useKeeping(kept);
  const problem = fileRulesProblem(rules);
  const { usual, legacyAllowed, storedTypes, exceptions, templates } = rules;
  return (
    <Screen title="Locked files" back={back}>
      <Text tone="soft">
        For people with neither certificate nor key: a file that opens with a password. Workers may choose otherwise for
        a person, within what you allow.
      </Text>
      <InPanel title="The usual way">
        <FileWayForm way={usual} legacyAllowed={legacyAllowed} onChange={(way) => set({ usual: way })} />
      </InPanel>
      <InPanel title="Passwords and ciphers">
        <Passwords rules={rules} set={set} />
      </InPanel>
      <InPanel title="Packing">
        <StoredTypes types={storedTypes} onChange={(types) => set({ storedTypes: types })} />
      </InPanel>
      <FileExceptions
        exceptions={exceptions}
        legacyAllowed={legacyAllowed}
        onChange={(changed) => set({ exceptions: changed })}
      />
      <CoverTexts
        templates={templates}
        officeName={officeName}
        container={usual.container}
        onChange={(changed) => set({ templates: changed })}
      />
      {problem === undefined ? null : <Banner tone="brick">{rulesProblemWords(problem)}</Banner>}
      <Result said={said} />
      <Row>
        <Button
          kind="main"
          label="Keep the rules"
          onPress={() => void keep()}
          busy={busy}
          disabled={problem !== undefined || isSame(rules, kept)}
        />
        {isSame(rules, kept) ? null : <Button kind="quiet" label="Undo the changes" onPress={() => setRules(kept)} />}
        {isSame(rules, OUR_RULES) ? null : (
          <Button kind="quiet" label="Begin with ours" onPress={() => setRules(OUR_RULES)} />
        )}
      </Row>
    </Screen>
  );
}
