/** OpenPGP keys in a file without a message: each judged for the address it names, for keeping with that person. */
import { defined } from '@under-lock/core/defined';
import { Banner, Line, Loading, Panel, Section, Text } from '@under-lock/ui';
import useSWR from 'swr';
import { useNow } from '../clock';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { problemWords } from '../problem-words';
import { keysDoor } from '../threads/keys/door';
import { KeepKey } from './KeepKey';

async function judged(found: readonly Uint8Array<ArrayBuffer>[]) {
  const views = await Promise.all(found.map((key) => keysDoor().openpgp.view(key)));
  const verdicts = await keysDoor().openpgp.judge(
    views.map(({ bytes, addresses: [address] }) => ({
      key: bytes,
      use: 'encrypt',
      compared: false,
      ...defined({ address }),
    })),
    new Date(),
  );
  return views.map((view, index) => ({ view, verdict: verdicts[index]! }));
}

export function KeysFound({ name, found }: { name: string; found: readonly Uint8Array<ArrayBuffer>[] }) {
  const now = useNow();
  const { data, error } = useSWR(['found', name, found], () => judged(found), { revalidateOnFocus: false });
  if (error !== undefined) return <Banner tone="brick">{problemWords(error)}</Banner>;
  if (data === undefined)
    return (
      <Panel>
        <Line last>
          <Loading what="Judging the keys in it" />
        </Line>
      </Panel>
    );
  return (
    <Section title="OpenPGP keys in it" aside={String(data.length)}>
      <Panel>
        {data.map(({ view, verdict }, index) => (
          <Line key={view.fingerprint} last={index === data.length - 1}>
            <KeyFacts view={view} verdict={verdict} now={now} />
            {view.addresses[0] === undefined ? (
              <Text kind="small" tone="soft">
                It names no mail address, so it belongs to nobody you write to.
              </Text>
            ) : verdict.level === 'stop' ? null : (
              <KeepKey view={view} holder={{ name: view.name, address: view.addresses[0] }} from="file" />
            )}
          </Line>
        ))}
      </Panel>
    </Section>
  );
}
