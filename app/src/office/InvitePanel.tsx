import { invite } from '@under-lock/contract/account';
import { Banner, Button, Field, Line, Panel, Result, Row, Section, Stack, StateMark, Text } from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { inOneLine } from '@under-lock/core/in-one-line';
import { momentInWords } from '@under-lock/core/when';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Departments } from './Departments';
import { MayRelease } from './MayRelease';
import { FurtherAddresses } from './FurtherAddresses';
import { ManageAccount } from './ManageAccount';
import { departmentsOf, useColleagues } from '../session/useOffice';
import { CopyButton } from '../shell/CopyButton';

/** For administrators: who works here, and a link for a new colleague. */
export function InvitePanel() {
  const now = useNow();
  const { account } = useOpenSession();
  const { data: colleagues = [] } = useColleagues();
  const [draft, setDraft] = useState({ name: '', address: '', title: '' });
  const [made, setMade] = useState<{ link: string; until: Date; name: string } | undefined>();
  const [error, setError] = useState<string | undefined>();
  const submit = async (): Promise<void> => {
    setError(undefined);
    try {
      setMade({
        ...(await api(invite, {
          body: { name: draft.name.trim(), address: draft.address.trim(), title: draft.title.trim() },
        })),
        name: draft.name,
      });
      setDraft({ name: '', address: '', title: '' });
      void mutate('colleagues');
    } catch (cause) {
      setMade(undefined);
      setError(problemWords(cause));
    }
  };
  const departments = departmentsOf(colleagues);
  return (
    <Section title="Who works here" aside={`${colleagues.length}`}>
      <Panel>
        {colleagues.map((one) => (
          <Line key={one.id}>
            <Row>
              <Text kind="strong">{one.name}</Text>
              {one.endedAt !== undefined ? (
                <StateMark tone="over" word="Ended" />
              ) : one.setUp ? null : (
                <StateMark tone="wants" word="Not set up yet" />
              )}
            </Row>
            <Text kind="small" tone="soft">
              {inOneLine(one.title, one.address, one.role === 'administrator' ? 'administrator' : '')}
            </Text>
            {one.endedAt === undefined ? <FurtherAddresses account={one} /> : null}
            {one.endedAt === undefined ? <Departments account={one} known={departments} /> : null}
            {one.endedAt === undefined && one.setUp ? <MayRelease account={one} /> : null}
            {one.setUp ? <ManageAccount account={one} isSelf={one.id === account.id} /> : null}
          </Line>
        ))}
        <Line last>
          <Stack>
            <Text kind="label" tone="soft">
              Invite a colleague
            </Text>
            <Field label="Name" value={draft.name} onChangeText={(name) => setDraft({ ...draft, name })} />
            <Field
              label="Address"
              value={draft.address}
              onChangeText={(address) => setDraft({ ...draft, address })}
              inputMode="email"
              autoCapitalize="none"
            />
            <Field label="What they do" value={draft.title} onChangeText={(title) => setDraft({ ...draft, title })} />
            <Result said={error} />
            {made === undefined ? null : (
              <Banner tone="sea" actions={<CopyButton value={made.link} what="the link" />}>
                {`Give ${made.name} this link by a way you trust; it works once, until ${momentInWords(made.until, now, zone)}: ${made.link}`}
              </Banner>
            )}
            <Row>
              <Button
                label="Make the link"
                onPress={() => void submit()}
                disabled={draft.name.trim() === '' || draft.address.trim() === ''}
              />
            </Row>
          </Stack>
        </Line>
      </Panel>
    </Section>
  );
}
