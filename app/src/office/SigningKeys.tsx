/** The key the office's mail is signed with (DKIM), and what to publish so that mail hosts can check it. */
import {
  type LookedUpRecord,
  lookUpRecords,
  replaceSigningKey,
  type SigningKeys as Keys,
} from '@under-lock/contract/office';
import { momentInWords } from '@under-lock/core/when';
import { Button, Dialog, Line, Result, Row, Section, StateMark, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { Listed } from '../shell/Listed';
import { useAttempt } from '../shell/useAttempt';
import { RecordsFound } from './RecordsFound';
import { RecordToEnter } from './RecordToEnter';
import { useSigningKeys } from './useSigningKeys';

function KeyLine({
  signingKey: { createdAt, replacedAt, record },
  now,
  last,
}: {
  signingKey: Keys['keys'][number];
  now: Date;
  last: boolean;
}) {
  return (
    <Line last={last}>
      <Row style={styles.between}>
        <Text kind="strong">{replacedAt === undefined ? 'In use' : 'Replaced'}</Text>
        {replacedAt === undefined ? (
          <StateMark tone="done" word={`since ${momentInWords(createdAt, now, zone)}`} />
        ) : null}
      </Row>
      {replacedAt === undefined ? null : (
        <Text kind="small" tone="soft">
          {`Since ${momentInWords(replacedAt, now, zone)}. Keep its record for two weeks: mail that was signed with it may still be on its way.`}
        </Text>
      )}
      <RecordToEnter type="TXT" {...record} />
    </Line>
  );
}

export function SigningKeys() {
  const { data, error, mutate } = useSigningKeys();
  const now = useNow();
  const [asking, setAsking] = useState(false);
  const { busy, said, say, attempt } = useAttempt();
  const [found, setFound] = useState<readonly LookedUpRecord[] | undefined>();
  const look = (): Promise<void> =>
    attempt(async () => setFound((await api(lookUpRecords)).records.filter(({ what }) => what === 'signing-key')));
  const replace = async (): Promise<void> => {
    setAsking(false);
    // What was found is of the key before.
    setFound(undefined);
    await attempt(async () => {
      await api(replaceSigningKey);
      say({
        tone: 'sea',
        text: 'A new key is in use. Publish its record now, and leave the old one for two weeks: mail signed with it is still on its way.',
      });
    });
    await mutate();
  };
  return (
    <Section title="The key our mail is signed with">
      <Text tone="soft">
        Every mail of the office carries a DKIM signature. Mail hosts check it against this record in your domain’s DNS;
        without the record it counts for nothing, and notices land in junk folders more often.
      </Text>
      <Result said={said} />
      <Listed items={data?.keys} error={error} fetching="Fetching the key" empty={null}>
        {(one, last) => <KeyLine key={one.selector} signingKey={one} now={now} last={last} />}
      </Listed>
      <RecordsFound records={found} />
      <Row>
        <Button label="Look the record up" busy={busy} onPress={() => void look()} />
        <Button label="Make a new key" onPress={() => setAsking(true)} />
      </Row>
      <Dialog
        title="Make a new key?"
        open={asking}
        onClose={() => setAsking(false)}
        actions={
          <>
            <Button kind="stop" label="Make it" onPress={() => void replace()} />
            <Button label="Leave it as it is" onPress={() => setAsking(false)} />
          </>
        }
      >
        <Text>
          From this moment mail is signed with the new key. Until its record is published, mail hosts can’t check the
          signature.
        </Text>
      </Dialog>
    </Section>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
});
