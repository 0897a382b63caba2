/** Account › Mail programs: what is typed into one, and the passwords that were made for them. */
import { addDevice, type Device, endDevice } from '@under-lock/contract/submission';
import { momentInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Dialog,
  Empty,
  Field,
  Line,
  Loading,
  OnEnter,
  Panel,
  Result,
  Row,
  Section,
  Stack,
  Text,
} from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { CopyButton } from '../shell/CopyButton';
import { Screen } from '../shell/Screen';
import { useAttempt } from '../shell/useAttempt';
import { SeenAtDoor } from './SeenAtDoor';
import { Signing } from './Signing';
import { ToldOfLeft } from './ToldOfLeft';
import { PROGRAMS_KEY, usePrograms } from './usePrograms';
import { Values } from './Values';
import { WayLink } from '../shell/WayLink';

function NewPassword({ onMade }: { onMade: (made: { name: string; password: string }) => void }) {
  const [name, setName] = useState('');
  const { busy, said, attempt } = useAttempt();
  const make = (): Promise<void> =>
    attempt(async () => {
      const { password } = await api(addDevice, { body: { name: name.trim() } });
      onMade({ name: name.trim(), password });
      setName('');
      await mutate(PROGRAMS_KEY);
    });
  const isReady = name.trim() !== '' && !busy;
  return (
    <Stack>
      <OnEnter does={isReady ? () => void make() : undefined}>
        <Field
          label="Name of the device or program"
          value={name}
          onChangeText={setName}
          maxLength={60}
          hint="So that you know later which one to end: “Laptop”, “Phone”."
        />
      </OnEnter>
      <Result said={said} />
      <Row>
        <Button label="Make a password" onPress={() => void make()} busy={busy} disabled={!isReady} />
      </Row>
    </Stack>
  );
}

function Made({ made: { name, password }, onDone }: { made: { name: string; password: string }; onDone: () => void }) {
  return (
    <Banner tone="sea">
      <Stack>
        <Text>{`The password for ${name}. It is shown this once: type it there now.`}</Text>
        <Text kind="mono" selectable>
          {password}
        </Text>
        <Row>
          <CopyButton value={password} what="the password" />
          <Button label="Done" onPress={onDone} />
        </Row>
      </Stack>
    </Banner>
  );
}

function DeviceLine({ device, now, last, onEnd }: { device: Device; now: Date; last: boolean; onEnd: () => void }) {
  const { name, madeAt, lastUsedAt } = device;
  const used = lastUsedAt === undefined ? 'never used' : `last used ${momentInWords(lastUsedAt, now, zone)}`;
  return (
    <Line last={last}>
      <Text kind="strong">{name}</Text>
      <Text kind="small" tone="soft">{`Since ${momentInWords(madeAt, now, zone)}, ${used}`}</Text>
      <Row>
        <Button kind="stop" label="End" describe={`End ${name}`} onPress={onEnd} />
      </Row>
    </Line>
  );
}

function EndDialog({ device, onClose }: { device: Device | undefined; onClose: () => void }) {
  const { busy, said, attempt } = useAttempt();
  if (device === undefined) return null;
  const end = (): Promise<void> =>
    attempt(async () => {
      await api(endDevice, { params: { id: device.id } });
      await mutate(PROGRAMS_KEY);
      onClose();
    });
  return (
    <Dialog
      title={`End ${device.name}?`}
      open
      onClose={onClose}
      said={said}
      actions={
        <>
          <Button kind="stop" label="End it" onPress={() => void end()} busy={busy} />
          <Button label="Leave it" onPress={onClose} />
        </>
      }
    >
      <Stack>
        <Text>It can send nothing more from that moment. What it has sent stays as it is.</Text>
      </Stack>
    </Dialog>
  );
}

function Passwords({ devices }: { devices: readonly Device[] }) {
  const now = useNow();
  const [made, setMade] = useState<{ name: string; password: string } | undefined>();
  const [ending, setEnding] = useState<Device | undefined>();
  return (
    <Section title="Passwords for mail programs">
      <Panel>
        {devices.map((device) => (
          <DeviceLine key={device.id} device={device} now={now} last={false} onEnd={() => setEnding(device)} />
        ))}
        <Line last>
          {made === undefined ? (
            <NewPassword onMade={setMade} />
          ) : (
            <Made made={made} onDone={() => setMade(undefined)} />
          )}
        </Line>
      </Panel>
      <EndDialog device={ending} onClose={() => setEnding(undefined)} />
    </Section>
  );
}

export function ProgramsScreen() {
  const { account } = useOpenSession();
  const { data, error } = usePrograms();
  return (
    <Screen title="Mail programs" back={<WayLink href="/account" label="Account" />}>
      {error !== undefined ? <Banner tone="brick">{problemWords(error)}</Banner> : null}
      {data === undefined ? (
        error === undefined ? (
          <Loading what="Looking for your mail programs" />
        ) : null
      ) : data.door === undefined ? (
        <Empty title="No way in for mail programs">
          Your office has not set up its door for mail programs. Whoever looks after the server can.
        </Empty>
      ) : (
        <>
          <Text>
            Send from the mail program you know: what you write there goes out under the same locks and rules as from
            here. What still needs something of you waits among your drafts, and you get a mail that says what.
          </Text>
          <Values door={data.door} address={account.address} />
          <Passwords devices={data.devices} />
          <Signing />
          <ToldOfLeft when={data.toldLeft} />
          <SeenAtDoor seen={data.seen} refusedAt={data.refusedAt} devices={data.devices} />
        </>
      )}
    </Screen>
  );
}
