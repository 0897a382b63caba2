/** A firm, by its domain: its people, what holds for everybody there, what is still readable there, the rules that name it. */
import { listReaders, type OpenReader } from '@under-lock/contract/outgoing';
import { isAtDomain } from '@under-lock/core/people/address';
import { type Firm } from '@under-lock/core/office-book/firm';
import { type Rule } from '@under-lock/core/rules/rule';
import {
  Banner,
  Button,
  Choice,
  Line,
  Loading,
  Panel,
  Result,
  type Said,
  Section,
  Text,
  TextButton,
} from '@under-lock/ui';
import { Columns } from '@under-lock/ui/columns';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { counted } from '../counted';
import { live } from '../live/live';
import { lockWords } from '../locks/lock-words';
import { useAttempt } from '../shell/useAttempt';
import { isIn, keepFirmLock, useBookPeople, useBookStand, useFirms } from '../office-book/useBook';
import { usePeople } from '../people/person';
import { problemWords } from '../problem-words';
import { usePolicy } from '../rules/usePolicy';
import { useOpenSession } from '../session/session';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { FirmFiles } from './FirmFiles';
import { WithdrawEverything } from './WithdrawEverything';

const back = <BackToList href="/people" label="People" />;

export function FirmScreen() {
  const { domain: asked } = useLocalSearchParams<{ domain: string }>();
  const domain = asked.toLowerCase();
  const { data: firms } = useFirms();
  const firm = firms?.find(({ value }) => value.domain === domain)?.value;
  return (
    <Screen title={domain} back={back} broad>
      <Columns room="even">
        <>
          <PeopleThere domain={domain} />
          <StillReadThere domain={domain} />
        </>
        <>
          <ForEverybody key={JSON.stringify(firm ?? null)} domain={domain} firm={firm} />
          <FirmFiles domain={domain} />
          <RulesNaming domain={domain} />
        </>
      </Columns>
    </Screen>
  );
}

function PeopleThere({ domain }: { domain: string }) {
  const { data: own } = usePeople();
  const { data: stand } = useBookStand();
  const { data: book, error } = useBookPeople();
  const isComing = isIn(stand) && book === undefined && error === undefined;
  if (own === undefined || stand === undefined || isComing) return <Loading what="Looking who is there" />;
  const lines = [
    ...own.map(({ id, value }) => ({ href: `/people/${id}`, value, whose: 'your own' })),
    ...(book ?? []).map(({ id, value }) => ({ href: `/people/office/${id}`, value, whose: 'office book' })),
  ].filter(({ value }) => isAtDomain(value.address, domain));
  return (
    <Section title="People there" aside={String(lines.length)}>
      <Panel>
        {lines.length === 0 ? (
          <Line last>
            <Text tone="soft">Nobody there is known.</Text>
          </Line>
        ) : (
          lines.map(({ href, value, whose }, index) => (
            <Line key={href} last={index === lines.length - 1}>
              <WayLink href={href} label={value.name || value.address} forward />
              <Text kind="small" tone="soft">{`${value.address} · ${whose}`}</Text>
            </Line>
          ))
        )}
      </Panel>
    </Section>
  );
}

function StillReadThere({ domain }: { domain: string }) {
  const { data, error, mutate } = useSWR('readers', async () => (await api(listReaders)).readers, {
    use: [live('sent')],
  });
  const [asking, setAsking] = useState(false);
  const [said, setSaid] = useState<Said | undefined>();
  const there = data?.filter(({ address }) => isAtDomain(address, domain)) ?? [];
  const sum = (of: keyof Pick<OpenReader, 'accesses' | 'opened'>): number =>
    there.reduce((total, one) => total + one[of], 0);
  return (
    <Section
      title="What they can still read"
      aside={
        there.length === 0 ? null : (
          <TextButton
            tone="brick"
            label="Withdraw everything"
            describe={`Withdraw everything from ${domain}`}
            onPress={() => setAsking(true)}
          />
        )
      }
    >
      <Result said={said} />
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      <Panel>
        {data === undefined && error === undefined ? <Loading what="Looking what they can read" /> : null}
        {there.map(({ name, address, accesses, opened }, index) => (
          <Line key={address} last={index === there.length - 1}>
            <Text kind="strong">{name || address}</Text>
            <Text kind="small" tone="soft">
              {`${counted(accesses, 'access', 'accesses')}, ${opened} opened`}
            </Text>
          </Line>
        ))}
        {data !== undefined && there.length === 0 ? (
          <Line last>
            <Text tone="soft">Nothing of yours.</Text>
          </Line>
        ) : null}
      </Panel>
      {asking ? (
        <WithdrawEverything
          from={{
            title: domain,
            addresses: there.map(({ address }) => address),
            accesses: sum('accesses'),
            opened: sum('opened'),
          }}
          onClose={() => setAsking(false)}
          onDone={(outcome) => {
            setAsking(false);
            setSaid(outcome);
            void mutate();
          }}
        />
      ) : null}
    </Section>
  );
}

const ANY = 'any';

/** The lock that plans take for whoever there has no other one chosen. */
function ForEverybody({ domain, firm }: { domain: string; firm: Firm | undefined }) {
  const { account } = useOpenSession();
  const { data: stand } = useBookStand();
  const [lock, setLock] = useState(firm?.lock ?? ANY);
  const { busy, said, attempt } = useAttempt();
  if (stand === undefined) return null;
  if (!isIn(stand))
    return (
      <Section title="For everybody there">
        <Text kind="small" tone="soft">
          What holds for a whole firm stands in the office book, for those who are in it.
        </Text>
      </Section>
    );
  return (
    <Section title="For everybody there">
      <Choice
        label="Lock"
        value={lock}
        onChange={setLock}
        options={[
          { value: ANY, label: 'The one that fits best', detail: 'By the handling, and by what is known of each' },
          ...Object.entries(lockWords).map(([value, label]) => ({ value, label })),
        ]}
      />
      <Text kind="small" tone="soft">
        A lock that was chosen for a person or a message goes first; one that the handling or a rule forbids is not
        taken.
      </Text>
      <Result said={said} />
      {lock === (firm?.lock ?? ANY) ? null : (
        <Button
          label="Keep for the whole office"
          busy={busy}
          onPress={() =>
            void attempt(() =>
              keepFirmLock(domain, lock === ANY ? undefined : lock, { id: account.id, name: account.name }),
            )
          }
        />
      )}
    </Section>
  );
}

/** Whether one of its conditions names this domain, or an address there. */
const names = (rule: Rule, domain: string): boolean => {
  const said = JSON.stringify(rule.when).toLowerCase();
  return said.includes(`"${domain}"`) || said.includes(`@${domain}"`);
};

function RulesNaming({ domain }: { domain: string }) {
  const { data: policy } = usePolicy();
  const naming = policy?.rules.filter((rule) => names(rule, domain)) ?? [];
  return (
    <Section title="Rules that name it" aside={String(naming.length)}>
      {naming.length === 0 ? (
        <Text kind="small" tone="soft">
          None.
        </Text>
      ) : (
        naming.map(({ id, name, sentence }) => (
          <Text key={id} kind="small">
            <Text kind="strong">{name}</Text>
            {`: ${sentence}`}
          </Text>
        ))
      )}
    </Section>
  );
}
