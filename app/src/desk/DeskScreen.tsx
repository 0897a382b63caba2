/** The desk: what needs attention, what came in, and what can still be read by whom until when. */
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, Loading, Row, Text } from '@under-lock/ui';
import { Columns } from '@under-lock/ui/columns';
import { later } from '@under-lock/ui/later';
import { useNow, zone } from '../clock';
import { goFind } from '../find/go-find';
import { problemWords } from '../problem-words';
import { Screen } from '../shell/Screen';
import { CameIn } from './CameIn';
import { Needs } from './Needs';
import { OpenNow } from './OpenNow';
import { useReleases, waitingForMe } from '../release/useReleases';
import { useSentList } from '../sent/useSent';
import { StillToSetUp } from './StillToSetUp';
import { useDesk } from './useDesk';

/** Asks for one's keys; apart, since most desks do without. */
const FirstSteps = later(
  async () => (await import('./FirstSteps')).default,
  () => <Loading what="Looking what there is to do" />,
);

export function DeskScreen() {
  const { data: desk, error, mutate } = useDesk();
  const now = useNow();
  // Only somebody with nothing open is asked whether they have sent anything before.
  const { data: sent } = useSentList({ asked: desk !== undefined && desk.openTotal === 0 && desk.needsTotal === 0 });
  const isNew = sent?.[0]?.messages.length === 0;
  const waiting = waitingForMe(useReleases().data);
  return (
    <Screen
      title="Desk"
      aside={
        <Row>
          <Text kind="small" tone="soft">
            {dayInWords(now, now, zone)}
          </Text>
          <Button label="Search" describe="Search mail, people and keys" onPress={goFind} />
        </Row>
      }
      broad
    >
      <StillToSetUp />
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      {desk === undefined ? (
        error === undefined ? (
          <Loading what="Looking over your desk" />
        ) : null
      ) : (
        <Columns room="less">
          <>
            {isNew && waiting.own.length + waiting.asked.length === 0 ? null : (
              <Needs desk={desk} waiting={waiting} now={now} onChange={mutate} />
            )}
            {isNew ? <FirstSteps now={now} /> : null}
            <CameIn unread={desk.unread} now={now} />
          </>
          <OpenNow desk={desk} now={now} />
        </Columns>
      )}
    </Screen>
  );
}
