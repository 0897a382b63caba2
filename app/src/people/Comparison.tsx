/**
 * Whether a fingerprint was compared with its holder: shown large to be read out, said with who and when, and taken
 * back.
 */
import { dayInWords } from '@under-lock/core/when';
import { Button, Dialog, Row, StateMark, Text } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { useNow, zone } from '../clock';
import { fingerprintInGroups } from '../keys/words';
import { type PersonKey } from '@under-lock/core/people/kept-person';

type Compared = NonNullable<PersonKey['checked']>;

interface Props {
  /** “the certificate”, “the OpenPGP key”. */
  of: string;
  /** Whose it is. */
  name: string;
  fingerprint: string | undefined; // hexadecimal; nothing until it is judged
  words?: readonly string[]; // the same as words to read out
  checked: Compared | undefined;
  busy: boolean;
  onChange: (checked: Compared | undefined) => Promise<void>;
  /** Who says so now. */
  by: string;
  /** What else can be done with it, beside the button. */
  children: ReactNode;
}

export function Comparison({ of, name, fingerprint, words, checked, busy, onChange, by, children }: Props) {
  const now = useNow();
  const [asking, setAsking] = useState(false);
  const say = async (next: Compared | undefined): Promise<void> => {
    await onChange(next);
    setAsking(false);
  };
  return (
    <>
      {checked === undefined ? (
        <Text kind="small" tone="soft">
          Nobody has compared the fingerprint with them yet.
        </Text>
      ) : (
        <StateMark tone="done" word={`compared by ${checked.by}, ${dayInWords(new Date(checked.at), now, zone)}`} />
      )}
      <Row>
        {checked === undefined ? (
          <Button
            label="Compare it"
            describe={`Compare it: the fingerprint of ${of}`}
            disabled={fingerprint === undefined}
            onPress={() => setAsking(true)}
          />
        ) : (
          <Button
            kind="quiet"
            label="Not compared after all"
            describe={`Not compared after all: the fingerprint of ${of}`}
            busy={busy}
            onPress={() => void say(undefined)}
          />
        )}
        {children}
      </Row>
      {asking && fingerprint !== undefined ? (
        <Dialog
          title={`Is this ${name}’s?`}
          open
          onClose={() => setAsking(false)}
          actions={
            <>
              <Button
                kind="main"
                label="We compared it: it is the same"
                busy={busy}
                onPress={() => void say({ at: new Date().toISOString(), by })}
              />
              <Button label="Not now" onPress={() => setAsking(false)} />
            </>
          }
        >
          <Text>
            Call them on a number you had before, and have them read out the fingerprint from their own program. Every
            group must be the same.
          </Text>
          <Text kind="mono">{fingerprintInGroups(fingerprint)}</Text>
          {words === undefined ? null : <Text kind="mono">{words.join(' ')}</Text>}
        </Dialog>
      ) : null}
    </>
  );
}
