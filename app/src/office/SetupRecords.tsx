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
import { Button, Result, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { useOffice } from '../session/useOffice';
import { CopyButton } from '../shell/CopyButton';
import { useAttempt } from '../shell/useAttempt';
import { RecordsFound } from './RecordsFound';
import { type DomainRecord, RecordToEnter } from './RecordToEnter';
import { Step } from './SetupStep';
import { useSigningKeys } from './useSigningKeys';

/** Where OpenPGP keys of the office are found. */
function keyRecord({ mailDomain, roomOrigin }: Office): DomainRecord {
  const { type, data } = pointingAt(roomOrigin);
  return { type, name: keyHost(mailDomain), value: data };
}

/** What has to be entered. */
function useRecords(): DomainRecord[] {
  const { data: office } = useOffice();
  const { data: signing } = useSigningKeys();
  const inUse = signing?.keys.find(({ replacedAt }) => replacedAt === undefined);
  return [
    ...(inUse === undefined ? [] : [{ type: 'TXT', ...inUse.record }]),
    ...(office === undefined ? [] : [keyRecord(office)]),
  ];
}

/** A line each, as it goes into a mail to whoever enters them. */
const asText = (records: readonly DomainRecord[]): string =>
  records.map(({ type, name, value }) => `${name} ${type} ${value}\n`).join('');

export function SetupRecords({ setup }: { setup: Setup }) {
  const records = useRecords();
  const now = useNow();
  const { busy, said, attempt } = useAttempt();
  const [found, setFound] = useState<readonly LookedUpRecord[] | undefined>();
  const look = (): Promise<void> =>
    attempt(async () => {
      setFound((await api(lookUpRecords)).records);
      await mutate('setup');
    });
  const publish = (): Promise<void> =>
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
      {records.map((one) => (
        <RecordToEnter key={one.name} {...one} />
      ))}
      <Row>
        <CopyButton value={asText(records)} what="both as text" />
      </Row>
      <RecordsFound records={found} />
      <Result said={said} />
      {recordsPublishedAt === undefined ? null : (
        <Text kind="small" tone="soft">
          {`They count as published since ${momentInWords(recordsPublishedAt, now, zone)}${found === undefined || isRight ? '' : ', though they are not all answered so now'}.`}
        </Text>
      )}
      <Row>
        <Button label={found === undefined ? 'Look them up' : 'Look again'} busy={busy} onPress={() => void look()} />
        {recordsPublishedAt !== undefined || found === undefined || isRight ? null : (
          <Button kind="quiet" label="They are published all the same" busy={busy} onPress={() => void publish()} />
        )}
      </Row>
    </Step>
  );
}
