/** Whether a worker is told by mail that something has come for them, and where. */
import { setToldByMail } from '@under-lock/contract/account';
import { defined } from '@under-lock/core/defined';
import { checkAddress, isAtDomain } from '@under-lock/core/people/address';
import { Button, Check, Field, Line, OnEnter, Panel, Result, Row, Section, Text } from '@under-lock/ui';
import { useState } from 'react';
import { api } from '../api';
import { useOffice } from '../session/useOffice';
import { useAttempt } from '../shell/useAttempt';
import { refreshSession, useOpenSession } from '../session/session';

export function ToldPanel() {
  const { toldByMail, toldAddress, account } = useOpenSession();
  const { said, attempt } = useAttempt();
  const change = (byMail: boolean, address: string | undefined): Promise<void> =>
    attempt(async () => {
      await api(setToldByMail, { body: { byMail, ...defined({ address }) } });
      await refreshSession();
    });
  return (
    <Section title="When something is held for you">
      <Panel>
        <Line last={!toldByMail}>
          <Check
            label="Tell me by mail"
            detail={`One mail to ${toldAddress ?? account.address} if you have not been here since it came, and none after it until you have. It says how many messages wait and nothing about them.`}
            value={toldByMail}
            onChange={(byMail) => void change(byMail, toldAddress)}
          />
          <Result said={said} />
        </Line>
        {toldByMail ? (
          <Line last>
            {toldAddress === undefined ? (
              <Elsewhere onChoose={(address) => change(true, address)} />
            ) : (
              <>
                <Text>{`You are told at ${toldAddress}, of ordinary mail that comes in here, too.`}</Text>
                <Row>
                  <Button label="At my own address again" onPress={() => void change(true, undefined)} />
                </Row>
              </>
            )}
          </Line>
        ) : null}
      </Panel>
    </Section>
  );
}

/** For whoever reads their ordinary mail in another program. */
function Elsewhere({ onChoose }: { onChoose: (address: string) => Promise<void> }) {
  const [address, setAddress] = useState('');
  const [tried, setTried] = useState(false);
  const { data: office } = useOffice();
  const wrong = !checkAddress(address.trim()).ok
    ? 'This is not a mail address.'
    : office !== undefined && isAtDomain(address.trim(), office.mailDomain)
      ? 'Mail to this address comes in here. Give one that you read in another program.'
      : undefined;
  const choose = (): void => {
    setTried(true);
    if (wrong === undefined) void onChoose(address.trim());
  };
  return (
    <>
      <OnEnter does={choose}>
        <Field
          label="At another address"
          value={address}
          onChangeText={setAddress}
          maxLength={254}
          inputMode="email"
          autoComplete="email"
          hint="Where you read your ordinary mail. Then you are told of mail that comes in here, too."
          error={tried ? wrong : undefined}
        />
      </OnEnter>
      <Row>
        <Button label="Tell me there" onPress={choose} />
      </Row>
    </>
  );
}
