/** Writing to the office from a mailbox outside, for trying out what arrives. */
import { Button, Check, Choice, Field, Line, Panel, Result, Row, type Said, Section } from '@under-lock/ui';
import { useState } from 'react';
import { useOffice } from '../session/useOffice';
import { sendLetter } from './useOutside';

const LOCKS = ['none', 'sign', 'both', 'encrypt'] as const;
const lockWords: Record<(typeof LOCKS)[number], string> = {
  none: 'Plain',
  sign: 'Signed',
  both: 'Signed and encrypted',
  encrypt: 'Encrypted only',
};

interface Props {
  from: string;
  certificate: boolean;
  openpgp: boolean;
  to?: string;
  subject?: string;
  answers?: readonly string[];
}

interface HowProps extends Pick<Props, 'certificate' | 'openpgp'> {
  lock: (typeof LOCKS)[number];
  setLock: (lock: (typeof LOCKS)[number]) => void;
  withKey: boolean;
  setWithKey: (on: boolean) => void;
}

/** What their mail program can do for it. */
function HowItGoes({ certificate, openpgp, lock, setLock, withKey, setWithKey }: HowProps) {
  return (
    <>
      {certificate || openpgp ? (
        <Line>
          <Choice
            label="Their mail program sends it"
            value={lock}
            onChange={setLock}
            options={LOCKS.map((value) => ({ value, label: lockWords[value] }))}
            row
          />
        </Line>
      ) : null}
      {openpgp ? (
        <Line>
          <Check label="With their OpenPGP key as a file" value={withKey} onChange={setWithKey} />
        </Line>
      ) : null}
    </>
  );
}

export function LetterForm({ from, certificate, openpgp, to: given = '', subject: about = '', answers = [] }: Props) {
  const { data: office } = useOffice();
  const [open, setOpen] = useState(false);
  const [to, setTo] = useState(given);
  const [subject, setSubject] = useState(about);
  const [text, setText] = useState('');
  const [lock, setLock] = useState<(typeof LOCKS)[number]>('none');
  const [withKey, setWithKey] = useState(false);
  const [said, setSaid] = useState<Said | undefined>();
  const [busy, setBusy] = useState(false);
  const url = office?.outsideUrl;
  if (office === undefined || url === undefined) return null;
  const send = async (): Promise<void> => {
    setBusy(true);
    try {
      await sendLetter(url, {
        from,
        to: to.trim(),
        subject,
        text,
        sign: lock === 'sign' || lock === 'both',
        encrypt: lock === 'encrypt' || lock === 'both',
        by: openpgp ? 'openpgp' : 'certificate',
        key: withKey,
        answers,
      });
      setSaid({ tone: 'sea', text: `Sent to ${to.trim()}.` });
      setOpen(false);
      setText('');
    } catch (error) {
      setSaid({ tone: 'brick', text: (error as Error).message });
    }
    setBusy(false);
  };
  const label = given === '' ? 'Write to the office' : 'Answer from here';
  return (
    <>
      <Result said={said} />
      {open ? (
        <Section title={label}>
          <Panel>
            <Line>
              <Field
                label="To"
                value={to}
                onChangeText={setTo}
                autoCapitalize="none"
                hint={`Somebody at ${office.mailDomain}`}
              />
            </Line>
            <Line>
              <Field label="Subject" value={subject} onChangeText={setSubject} />
            </Line>
            <Line>
              <Field label="Text" value={text} onChangeText={setText} multiline />
            </Line>
            <HowItGoes {...{ certificate, openpgp, lock, setLock, withKey, setWithKey }} />
            <Line last>
              <Row>
                <Button
                  kind="main"
                  label="Send it"
                  busy={busy}
                  disabled={to.trim() === ''}
                  onPress={() => void send()}
                />
                <Button label="Leave it" onPress={() => setOpen(false)} />
              </Row>
            </Line>
          </Panel>
        </Section>
      ) : (
        <Row>
          <Button label={label} onPress={() => setOpen(true)} />
        </Row>
      )}
    </>
  );
}
