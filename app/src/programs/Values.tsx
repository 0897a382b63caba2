/** What is typed into a mail program, in the words that mail programs use; the same as a sheet to save. */
import { utf8 } from '@under-lock/core/bytes';
import { Button, Fold, Line, Panel, Row, Section, Stack, Text } from '@under-lock/ui';
import { View } from 'react-native';
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

const Pair = ({ name, value }: { name: string; value: string }) => (
  <>
    <Text kind="small" tone="soft">
      {name}
    </Text>
    <Text selectable>{value}</Text>
  </>
);

export function Values({ door, address }: { door: Door; address: string }) {
  return (
    <Section title="What to type">
      <Panel>
        {valuesOf(door, address).map(([name, value]) => (
          <Line key={name} last={false}>
            <Pair name={name} value={value} />
          </Line>
        ))}
        <Line last>
          <Fold label="Where to type it" head={<Text>Where to type it</Text>}>
            <Stack>
              {PLACES.map(([name, value]) => (
                <View key={name}>
                  <Pair name={name} value={value} />
                </View>
              ))}
            </Stack>
          </Fold>
          <Row>
            <Button
              label="Save as a sheet"
              onPress={() => saveFile(utf8(sheetOf(door, address)), 'mail-program.txt', 'text/plain')}
            />
          </Row>
        </Line>
      </Panel>
    </Section>
  );
}
