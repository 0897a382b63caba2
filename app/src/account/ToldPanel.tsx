/** Whether a worker is told by mail that something is held for them. */
import { setToldByMail } from '@under-lock/contract/account';
import { Banner, Check, Line, Panel, Section } from '@under-lock/ui';
import { api } from '../api';
import { useAttempt } from '../shell/useAttempt';
import { refreshSession, useOpenSession } from '../session/session';

export function ToldPanel() {
  const { toldByMail, account } = useOpenSession();
  const { said, attempt } = useAttempt();
  const change = (byMail: boolean): Promise<void> =>
    attempt(async () => {
      await api(setToldByMail, { body: { byMail } });
      await refreshSession();
    });
  return (
    <Section title="When something is held for you">
      <Panel>
        <Line last>
          <Check
            label="Tell me by mail"
            detail={`One mail to ${account.address} if you have not been here since it came, and none after it until you have. It says how many messages wait and nothing about them.`}
            value={toldByMail}
            onChange={(byMail) => void change(byMail)}
          />
          {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
        </Line>
      </Panel>
    </Section>
  );
}
