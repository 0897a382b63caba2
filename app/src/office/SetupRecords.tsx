/** The records of the office's domain: what is to be entered, and how the DNS answers now. */
import {
  type LookedUpRecord,
  lookUpRecords,
  type Office,
  sayRecordsPublished,
  type Setup,
} from '@under-lock/contract/office';
import { keyHost, pointingAt } from '@under-lock/core/openpgp/key-host';
import { momentInWords } from '@under-lock/core/when';
import { Banner, Button, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { mutate } from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { useOffice } from '../session/useOffice';
import { useAttempt } from '../shell/useAttempt';
import { WayLink } from '../shell/WayLink';
import { RecordsFound } from './RecordsFound';
import { Step } from './SetupStep';

/** As a DNS record says it. */
function keyRecord({ mailDomain, roomOrigin }: Office): string {
  const { type, data } = pointingAt(roomOrigin);
  return `${keyHost(mailDomain)} ${type} ${data}`;
}

export function SetupRecords({ setup }: { setup: Setup }) {
  const { data: office } = useOffice();
  const now = useNow();
  const { busy, said, attempt } = useAttempt();
  const [found, setFound] = useState<readonly LookedUpRecord[] | undefined>();
  const look = (): Promise<void> =>
    attempt(async () => {
      setFound((await api(lookUpRecords)).records);
      await mutate('setup');
    });
  const say = (): Promise<void> =>
    attempt(async () => {
      await api(sayRecordsPublished);
      await mutate('setup');
    });
  const isRight = found?.every(({ state }) => state === 'right') ?? false;
  const { recordsPublishedAt } = setup;
  return (
    <Step setup={setup} step="records" title="Publish your domain’s records">
      <Text tone="soft">
        Whoever looks after your domain enters two records: the key that your mail is signed with, and where the OpenPGP
        keys of your office are found.
      </Text>
      <WayLink href="/office/notices" label="The signing key’s record" forward />
      {office === undefined ? null : (
        <Text kind="mono" style={styles.wrap}>
          {keyRecord(office)}
        </Text>
      )}
      <RecordsFound records={found} />
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      {recordsPublishedAt === undefined ? null : (
        <Text kind="small" tone="soft">
          {`They count as published since ${momentInWords(recordsPublishedAt, now, zone)}.`}
        </Text>
      )}
      <Row>
        <Button label={found === undefined ? 'Look them up' : 'Look again'} busy={busy} onPress={() => void look()} />
        {recordsPublishedAt !== undefined || found === undefined || isRight ? null : (
          <Button kind="quiet" label="They are published all the same" busy={busy} onPress={() => void say()} />
        )}
      </Row>
    </Step>
  );
}

const styles = StyleSheet.create({
  wrap: { overflowWrap: 'anywhere' } as object,
});
