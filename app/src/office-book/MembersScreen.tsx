/** Who holds the office's key, who waits to be let in, and letting out. */
import { spelledFingerprint } from '@under-lock/core/account/key-fingerprint';
import { dayInWords } from '@under-lock/core/when';
import { Button, Dialog, Line, Loading, Panel, Result, Row, Section, Text } from '@under-lock/ui';
import { useState } from 'react';
import { useNow, zone } from '../clock';
import { useOpenSession } from '../session/session';
import { type Colleague, useColleagues } from '../session/useOffice';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { useAttempt } from '../shell/useAttempt';
import { isIn, letBack, letDoorIn, letDoorOut, letIn, letOut, useBookStand } from './useBook';
import { spelledKey, waitingFor } from './waiting';

const back = <BackToList href="/people/office" label="Office book" />;

export function MembersScreen() {
  const { data: stand } = useBookStand();
  const { data: colleagues } = useColleagues();
  if (stand === undefined || colleagues === undefined)
    return (
      <Screen title="Who is in" back={back}>
        <Loading what="Looking up who is in" />
      </Screen>
    );
  if (!isIn(stand))
    return (
      <Screen title="Who is in" back={back}>
        <Text>Only who is in the office book sees this.</Text>
      </Screen>
    );
  return (
    <Screen title="Who is in" back={back}>
      <Text tone="soft">
        Whoever is in can read and change everything in the office book, and let others in. An administrator lets out;
        then the next of you makes a new key.
      </Text>
      <Waiting waiting={waitingFor(stand, colleagues)} />
      <MailPrograms />
      <Members />
      <Out />
    </Screen>
  );
}

function Waiting({ waiting }: { waiting: Colleague[] }) {
  const { busy, said, attempt } = useAttempt();
  if (waiting.length === 0) return null;
  return (
    <Section title="To be let in" aside={String(waiting.length)}>
      <Panel>
        {waiting.map((one, index) => (
          <Line key={one.id} last={index === waiting.length - 1}>
            <Text kind="strong">{one.name}</Text>
            <Text kind="small" tone="soft">
              {one.address}
            </Text>
            <Text kind="mono">{spelledKey(one)}</Text>
            <Row>
              <Button
                label="Let in"
                describe={`Let in ${one.name}`}
                busy={busy}
                onPress={() => void attempt(() => letIn([one]))}
              />
            </Row>
          </Line>
        ))}
      </Panel>
      <Text kind="small" tone="soft">
        The figures are those of their key, and they see the same under People › Office. Have them read out where you
        are not sure who is asking.
      </Text>
      {waiting.length < 2 ? null : (
        <Row>
          <Button
            kind="quiet"
            label="Let everybody in"
            busy={busy}
            onPress={() => void attempt(() => letIn(waiting))}
          />
        </Row>
      )}
      <Result said={said} />
    </Section>
  );
}

/** The door for mail programs reads the book to plan with it; whoever lets it in has looked at its key. */
function MailPrograms() {
  const { account } = useOpenSession();
  const now = useNow();
  const { data: stand } = useBookStand();
  const { busy, said, attempt } = useAttempt();
  const theDoor = stand?.door;
  if (theDoor === undefined) return null;
  const { letIn: since } = theDoor;
  return (
    <Section title="The door for mail programs">
      <Panel>
        <Line last>
          <Text>
            {since === undefined
              ? 'It is not in: what colleagues send from their mail programs is planned without the office book, and waits for them where something is missing.'
              : `It reads the office book, so that what colleagues send from their mail programs goes by what is known here. Let in ${since.by === undefined ? '' : `by ${since.by}, `}${dayInWords(since.at, now, zone)}.`}
          </Text>
          <Text kind="mono">{spelledFingerprint(theDoor.publicKey)}</Text>
          <Row>
            {since === undefined ? (
              <Button label="Let the door in" busy={busy} onPress={() => void attempt(() => letDoorIn(theDoor))} />
            ) : account.role === 'administrator' ? (
              <Button kind="quiet" label="Let the door out" busy={busy} onPress={() => void attempt(letDoorOut)} />
            ) : null}
          </Row>
          {since === undefined ? (
            <Text kind="small" tone="soft">
              The figures are those of its key: whoever looks after the server finds the same where the door was
              started.
            </Text>
          ) : null}
          <Result said={said} />
        </Line>
      </Panel>
    </Section>
  );
}

function Members() {
  const { account } = useOpenSession();
  const now = useNow();
  const { data: stand } = useBookStand();
  const { data: colleagues = [] } = useColleagues();
  const [asking, setAsking] = useState<Colleague | undefined>();
  const { busy, said, attempt } = useAttempt();
  const members = stand?.members ?? [];
  return (
    <Section title="In the office book" aside={String(members.length)}>
      <Panel>
        {members.map(({ id, letInAt, letInBy }, index) => {
          const colleague = colleagues.find((one) => one.id === id);
          if (colleague === undefined) return null;
          const since = `${letInBy === undefined ? 'Made the key' : `Let in by ${letInBy}`}, ${dayInWords(letInAt, now, zone)}`;
          return (
            <Line key={id} last={index === members.length - 1}>
              <Text kind="strong">{id === account.id ? `${colleague.name} (you)` : colleague.name}</Text>
              <Text kind="small" tone="soft">
                {since}
              </Text>
              {account.role !== 'administrator' || id === account.id ? null : (
                <Row>
                  <Button
                    kind="quiet"
                    label="Let out"
                    describe={`Let out ${colleague.name}`}
                    onPress={() => setAsking(colleague)}
                  />
                </Row>
              )}
            </Line>
          );
        })}
      </Panel>
      <Result said={said} />
      {asking === undefined ? null : (
        <Dialog
          open
          title={`Let ${asking.name} out?`}
          onClose={() => setAsking(undefined)}
          actions={
            <>
              <Button
                kind="stop"
                label="Let out"
                busy={busy}
                onPress={() => void attempt(() => letOut(asking.id)).then(() => setAsking(undefined))}
              />
              <Button label="Leave them in" onPress={() => setAsking(undefined)} />
            </>
          }
        >
          <Text>
            From now on the office book is closed to them. What they have read stays known to them. The next colleague
            who opens the book makes a new key.
          </Text>
        </Dialog>
      )}
    </Section>
  );
}

function Out() {
  const { account } = useOpenSession();
  const { data: stand } = useBookStand();
  const { data: colleagues = [] } = useColleagues();
  const { busy, said, attempt } = useAttempt();
  const out = colleagues.filter(({ id }) => stand?.out.includes(id) === true);
  if (out.length === 0) return null;
  return (
    <Section title="Let out">
      <Panel>
        {out.map((one, index) => (
          <Line key={one.id} last={index === out.length - 1}>
            <Text kind="strong">{one.name}</Text>
            {account.role !== 'administrator' ? null : (
              <Row>
                <Button
                  kind="quiet"
                  label="May be let in again"
                  describe={`May be let in again: ${one.name}`}
                  busy={busy}
                  onPress={() => void attempt(() => letBack(one.id))}
                />
              </Row>
            )}
          </Line>
        ))}
      </Panel>
      <Result said={said} />
    </Section>
  );
}
