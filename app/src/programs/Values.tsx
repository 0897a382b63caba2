/** What is typed into a mail program, in the words that mail programs use; the same as a sheet to save. */
import { utf8 } from '@under-lock/core/bytes';
import { Button, Line, Panel, Row, Section, Text } from '@under-lock/ui';
import { saveFile } from '../save-file';

export interface Door {
  host: string;
  startTls: number;
  tls: number;
}

const valuesOf = ({ host, startTls, tls }: Door, address: string): readonly (readonly [string, string])[] => [
  ['Outgoing server (SMTP)', host],
  ['Port', `${tls}, with SSL/TLS`],
  ['Or, where your program has no SSL/TLS', `${startTls}, with STARTTLS`],
  ['Kind of sign-in', 'Normal password'],
  ['User name', address],
  [
    'Password',
    'The one you make for this program under Account › Mail programs. The one you sign in with does not open it.',
  ],
];

/** Where such values are asked for, by the kind of program. */
const PLACES: readonly (readonly [string, string])[] = [
  ['On a computer', 'In the account’s settings, under “outgoing server” or “SMTP”. Incoming mail stays as it is.'],
  ['On a phone', 'In the account’s settings, under “advanced” or “outgoing mail”.'],
  ['A scanner or a machine that sends mail', 'In its settings for mail; it gets a password of its own.'],
];

/** A plain text, for whoever sets the program up. */
function sheetOf(door: Door, address: string): string {
  const lines = [...valuesOf(door, address), ...PLACES].map(([name, value]) => `${name}:\n  ${value}\n`);
  return `Sending mail from a mail program, for ${address}\n\n${lines.join('\n')}`.replace(/\n/g, '\r\n');
}

function Pairs({ of }: { of: readonly (readonly [string, string])[] }) {
  return of.map(([name, value], index) => (
    <Line key={name} last={index === of.length - 1}>
      <Text kind="small" tone="soft">
        {name}
      </Text>
      <Text selectable>{value}</Text>
    </Line>
  ));
}

export function Values({ door, address }: { door: Door; address: string }) {
  return (
    <>
      <Section title="What to type">
        <Panel>
          <Pairs of={valuesOf(door, address)} />
        </Panel>
        <Row>
          <Button
            label="Save as a sheet"
            onPress={() => saveFile(utf8(sheetOf(door, address)), 'mail-program.txt', 'text/plain')}
          />
        </Row>
      </Section>
      <Section title="Where to type it">
        <Panel>
          <Pairs of={PLACES} />
        </Panel>
      </Section>
    </>
  );
}
