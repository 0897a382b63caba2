/** For administrators: what a colleague may do here, their devices, and the end of their account. */
import { type Account, changeRole, endAccount, endSessionsOf, reopenAccount } from '@under-lock/contract/account';
import { Button, Check, Choice, Dialog, Row, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { useAttempt } from '../shell/useAttempt';

interface Props {
  account: Account & { setUp: boolean; endedAt?: Date | undefined };
  isSelf: boolean;
}

const ROLES = [
  { value: 'worker', label: 'Worker', detail: 'Writes, receives and manages their own keys and people.' },
  {
    value: 'administrator',
    label: 'Administrator',
    detail: 'Also manages accounts, presets, notices, and whom the office trusts.',
  },
] as const;

interface LeavingProps {
  account: Props['account'];
  busy: boolean;
  act: (task: () => Promise<string>) => Promise<void>;
}

function Leaving({ account, busy, act }: LeavingProps) {
  const [withdraw, setWithdraw] = useState(false);
  const end = (): Promise<void> =>
    act(async () => {
      const { withdrawn } = await api(endAccount, { params: { id: account.id }, body: { withdraw } });
      return withdrawn === 0
        ? `${account.name}’s account has ended.`
        : `${account.name}’s account has ended, and ${withdrawn === 1 ? 'one access' : `${withdrawn} accesses`} to what they sent with it.`;
    });
  return (
    <Stack>
      <Text kind="label" tone="soft">
        When they leave
      </Text>
      <Text kind="small">
        After this nobody signs in with the account, and mail to it is refused. What they sent stays readable until it
        closes.
      </Text>
      <Check
        label="Withdraw what they sent, too"
        detail="Everybody who can still read something of theirs can’t any more."
        value={withdraw}
        onChange={setWithdraw}
      />
      <Row>
        <Button kind="stop" label="End the account" busy={busy} onPress={() => void end()} />
      </Row>
    </Stack>
  );
}

export function ManageAccount({ account, isSelf }: Props) {
  const [open, setOpen] = useState(false);
  const { busy, said, say, attempt } = useAttempt();
  const act = (task: () => Promise<string>): Promise<void> =>
    attempt(async () => {
      const text = await task();
      await mutate('colleagues');
      say({ tone: 'sea', text });
    });
  const params = { id: account.id };
  return (
    <>
      <Row>
        <Button
          kind="quiet"
          label="Role and devices"
          describe={`Role and devices of ${account.name}`}
          onPress={() => setOpen(true)}
        />
      </Row>
      <Dialog
        title={account.name}
        open={open}
        onClose={() => setOpen(false)}
        said={said}
        actions={<Button label="Done" onPress={() => setOpen(false)} />}
      >
        {account.endedAt !== undefined ? (
          <Stack>
            <Text>This account has ended: nobody signs in with it, and nobody writes to it.</Text>
            <Row>
              <Button
                label="Open it again"
                busy={busy}
                onPress={() =>
                  void act(async () => {
                    await api(reopenAccount, { params });
                    return `${account.name} can sign in again, with the same password.`;
                  })
                }
              />
            </Row>
          </Stack>
        ) : (
          <>
            <Choice
              label="Role"
              value={account.role}
              options={ROLES}
              onChange={(role) =>
                void act(async () => {
                  await api(changeRole, { params, body: { role } });
                  return `${account.name} is ${role === 'administrator' ? 'an administrator' : 'a worker'} now.`;
                })
              }
            />
            <Row>
              <Button
                label="Sign out on every device"
                busy={busy}
                onPress={() =>
                  void act(async () => {
                    const { ended } = await api(endSessionsOf, { params });
                    return ended === 0
                      ? `${account.name} was signed in nowhere.`
                      : `${account.name} is signed out on ${ended === 1 ? 'one device' : `${ended} devices`}.`;
                  })
                }
              />
            </Row>
            {isSelf ? null : <Leaving account={account} busy={busy} act={act} />}
          </>
        )}
      </Dialog>
    </>
  );
}
