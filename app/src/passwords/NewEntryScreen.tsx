/** A password newly agreed with somebody. */
import { entryFor, type Direction } from '@under-lock/core/passwords/entry';
import { checkAddress } from '@under-lock/core/people/address';
import { Banner, Choice, Field, Line, Loading, Panel, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { addressProblem } from '../people/words';
import { problemWords } from '../problem-words';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { useNameOf } from './useNameOf';
import { PasswordForm } from './PasswordForm';
import { TheirPassword } from './TheirPassword';
import { useFileRules } from './useFileRules';
import { rememberPassword, usePasswords } from './usePasswords';
import { directionWords } from './words';
import { fromHere } from '../shell/from-here';

const DIRECTIONS = ['out', 'in'] as const;

export function NewEntryScreen() {
  const { data: book, error } = usePasswords();
  const { data: rules } = useFileRules();
  const nameOf = useNameOf();
  const [typed, setTyped] = useState('');
  const [direction, setDirection] = useState<Direction>('out');
  const checked = checkAddress(typed);
  const address = checked.ok ? checked.address : undefined;
  const known = address === undefined ? undefined : entryFor(book ?? [], address, direction);
  const keep = async (password: string, guesses: number, told: boolean): Promise<void> => {
    const goOn = fromHere();
    const now = new Date();
    const toldAt = told ? { toldAt: now.toISOString() } : {};
    await rememberPassword(book!, { address: address!, direction, password, guesses, ...toldAt }, now);
    goOn('/keys/passwords');
  };
  return (
    <Screen title="A new password" back={<BackToList href="/keys/passwords" label="Password book" />}>
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      {book === undefined || rules === undefined ? (
        <Loading what="Opening the password book" />
      ) : (
        <Panel>
          <Line last>
            <Stack>
              <Field
                label="Address of the person"
                value={typed}
                onChangeText={setTyped}
                inputMode="email"
                autoCapitalize="none"
                autoComplete="off"
                error={typed === '' || checked.ok ? undefined : addressProblem[checked.problem]}
              />
              <Choice
                row
                label="For"
                value={direction}
                onChange={setDirection}
                options={DIRECTIONS.map((value) => ({ value, label: directionWords[value] }))}
              />
              {known === undefined ? null : (
                <Text kind="small" tone="amber">
                  ▲ There is one already. It goes into the history, so that what came or went under it still opens.
                </Text>
              )}
              {address === undefined ? null : direction === 'out' ? (
                <PasswordForm
                  key={address}
                  who={nameOf(address)}
                  known={[nameOf(address), address]}
                  leastGuesses={rules.leastGuesses}
                  kind="words"
                  telling="agreed"
                  remember
                  onUse={({ password, guesses, telling }) => keep(password, guesses, telling === 'agreed')}
                />
              ) : (
                <TheirPassword who={nameOf(address)} onKeep={(password, guesses) => keep(password, guesses, true)} />
              )}
            </Stack>
          </Line>
        </Panel>
      )}
    </Screen>
  );
}
