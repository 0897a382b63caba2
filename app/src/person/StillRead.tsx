/** What one person can still read of what was sent to them: until when, whether they opened it, and ending it here. */
import { type Access, listAccesses, withdrawGrants } from '@under-lock/contract/outgoing';
import { type Summary, summarySchema } from '@under-lock/core/outgoing/draft';
import { addressKey } from '@under-lock/core/people/address';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Dialog,
  Line,
  Loading,
  Panel,
  Result,
  Row,
  type Said,
  Section,
  Text,
  TextButton,
  TimeLeft,
} from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { counted } from '../counted';
import { live } from '../live/live';
import { problemWords } from '../problem-words';
import { openedWords } from '../handling/grant-words';
import { subjectOf } from '../sent/useSent';
import { WayLink } from '../shell/WayLink';
import { openSent } from '../vault/useVault';
import { useAttempt } from '../shell/useAttempt';
import { WithdrawEverything } from './WithdrawEverything';

interface Held extends Access {
  opened: Summary | undefined;
}

async function fetchHeld(address: string): Promise<{ accesses: Held[]; total: number }> {
  const { accesses, total } = await api(listAccesses, { query: { address } });
  const summaries = await openSent(
    summarySchema,
    accesses.map(({ messageId, summary }) => ({ id: messageId, sealed: summary })),
  );
  return { accesses: accesses.map((access, index) => ({ ...access, opened: summaries[index] })), total };
}

export function StillRead({ name, address }: { name: string; address: string }) {
  const now = useNow();
  const { data, error, mutate } = useSWR(['accesses', addressKey(address)], () => fetchHeld(address), {
    use: [live('sent')],
  });
  const [asking, setAsking] = useState<'everything' | Held | undefined>();
  const [said, setSaid] = useState<Said | undefined>();
  const done = (outcome: Said): void => {
    setAsking(undefined);
    setSaid(outcome);
    void mutate();
  };
  const accesses = data?.accesses ?? [];
  const more = (data?.total ?? 0) - accesses.length;
  const everything =
    accesses.length < 2 ? null : (
      <TextButton
        tone="brick"
        label="Withdraw everything"
        describe={`Withdraw everything from ${name}`}
        onPress={() => setAsking('everything')}
      />
    );
  return (
    <Section title="What they can still read" aside={everything}>
      <Result said={said} />
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      <Panel>
        {data === undefined ? (
          error === undefined ? (
            <Loading what="Looking what they can read" />
          ) : null
        ) : accesses.length === 0 ? (
          <Line last>
            <Text tone="soft">Nothing: whatever was held for them has closed or was withdrawn.</Text>
          </Line>
        ) : (
          accesses.map((access, index) => (
            <HeldLine
              key={access.grant.id}
              access={access}
              now={now}
              last={index === accesses.length - 1 && more === 0}
              onWithdraw={() => setAsking(access)}
            />
          ))
        )}
        {more === 0 ? null : (
          <Line last>
            <Text
              kind="small"
              tone="soft"
            >{`and ${counted(more, 'more access', 'more accesses')}, closing later`}</Text>
          </Line>
        )}
      </Panel>
      {asking === undefined ? null : asking === 'everything' ? (
        <WithdrawEverything
          from={{
            title: name,
            addresses: [address],
            accesses: data?.total ?? 0,
            opened: accesses.filter(({ grant }) => grant.opened.count > 0).length,
          }}
          onClose={() => setAsking(undefined)}
          onDone={done}
        />
      ) : (
        <WithdrawOne access={asking} name={name} now={now} onClose={() => setAsking(undefined)} onDone={done} />
      )}
    </Section>
  );
}

interface LineProps {
  access: Held;
  now: Date;
  last: boolean;
  onWithdraw: () => void;
}

function HeldLine({ access: { messageId, sentAt, grant, opened }, now, last, onWithdraw }: LineProps) {
  const subject = subjectOf(opened);
  const closes = momentInWords(grant.closesAt, now, zone);
  return (
    <Line last={last}>
      <Row style={styles.between}>
        <WayLink href={`/mail/${messageId}`} label={subject} forward />
        <TextButton tone="brick" label="Withdraw" describe={`Withdraw: ${subject}`} onPress={onWithdraw} />
      </Row>
      <TimeLeft from={sentAt} until={grant.closesAt} now={now} words={distanceInWords(grant.closesAt, now, zone)} />
      <Text kind="small" tone="soft">{`Until ${closes}; ${openedWords(grant, now)}`}</Text>
    </Line>
  );
}

interface OneProps {
  access: Held;
  name: string;
  now: Date;
  onClose: () => void;
  onDone: (outcome: Said) => void;
}

function WithdrawOne({ access: { messageId, grant, opened }, name, now, onClose, onDone }: OneProps) {
  const { busy, said, attempt } = useAttempt();
  const subject = subjectOf(opened);
  const read = grant.opened.count > 0;
  const go = (): Promise<void> =>
    attempt(async () => {
      await api(withdrawGrants, { params: { id: messageId }, body: { grantIds: [grant.id] } });
      onDone({ tone: 'sea', text: `“${subject}” is withdrawn from ${name}.` });
    });
  return (
    <Dialog
      title={`Withdraw “${subject}” from ${name}?`}
      open
      onClose={onClose}
      said={said}
      actions={
        <>
          <Button kind="stop" label="Withdraw" busy={busy} onPress={() => void go()} />
          <Button label="Leave it as it is" onPress={onClose} />
        </>
      }
    >
      <Text>
        {read
          ? `They have ${openedWords(grant, now)}; what was read can’t be taken back.`
          : 'They have not opened it. After this nobody can.'}
      </Text>
      <Text kind="small" tone="soft">
        What they passed on ends too. You can give access again later, with a new link.
      </Text>
    </Dialog>
  );
}

const styles = StyleSheet.create({ between: { justifyContent: 'space-between', flexWrap: 'nowrap' } });
