/** The worker's own OpenPGP keys on the Keys page: those in use, and those kept for reading. */
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { Button, Empty, Line, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { Pressable, StyleSheet } from 'react-native';
import { Listed } from '../../shell/Listed';
import { VerdictMark } from '../Facts';
import { keyValidityInWords } from './KeyFacts';
import { type OwnOpenPgpKey } from './own-key';
import { isOldKey, useOpenPgpKeys, useOpenPgpVerdicts } from './useOpenPgpKeys';
import { type OpenPgpVerdictView } from './view';

function KeyLine({
  own,
  verdict,
  now,
  last,
}: {
  own: OwnOpenPgpKey;
  verdict: OpenPgpVerdictView | undefined;
  now: Date;
  last: boolean;
}) {
  const { view } = own;
  const old = isOldKey(own, now);
  const title = view.addresses.join(', ') || view.name;
  return (
    <Pressable
      role="link"
      aria-label={`OpenPGP key for ${title}, ${keyValidityInWords(view, now)}`}
      onPress={() => router.push(`/keys/openpgp/${own.id}` as never)}
    >
      <Line last={last}>
        <Row style={styles.between}>
          <Text kind="strong" style={styles.wrap}>
            {title}
          </Text>
          {view.revocation !== undefined ? (
            <StateMark tone="stopped" word="revoked" />
          ) : old ? (
            <StateMark tone="over" word="for reading only" />
          ) : (
            <VerdictMark verdict={verdict} />
          )}
        </Row>
        <Text
          kind="small"
          tone="soft"
        >{`${own.purpose === 'certifying' ? 'Vouches for colleagues’ keys' : `${view.parts[0]?.algorithm ?? ''}, version ${view.version}`}; ${keyValidityInWords(view, now)}`}</Text>
        {old ? null : (
          <>
            {view.expiresAt !== undefined && runsOutSoon({ notAfter: view.expiresAt }, now) ? (
              <Text kind="small" tone="amber">
                ▲ Runs out soon: lengthen it in good time
              </Text>
            ) : null}
            {own.backedUpAt === undefined ? (
              <Text kind="small" tone="amber">
                ▲ Not backed up: were this vault lost, mail sealed to it could not be read any more
              </Text>
            ) : null}
          </>
        )}
      </Line>
    </Pressable>
  );
}

export function OpenPgpKeys({ now }: { now: Date }) {
  const { data, error } = useOpenPgpKeys();
  const { data: verdicts } = useOpenPgpVerdicts(data);
  const current = (data ?? []).filter((one) => !isOldKey(one, now));
  const old = (data ?? []).filter((one) => isOldKey(one, now));
  const line = (own: OwnOpenPgpKey, last: boolean) => (
    <KeyLine key={own.id} own={own} verdict={verdicts?.get(own.id)} now={now} last={last} />
  );
  return (
    <>
      <Section title="Your OpenPGP keys">
        <Listed
          items={data === undefined ? undefined : current}
          error={error}
          fetching="Opening your OpenPGP keys"
          empty={<NoKeys />}
        >
          {line}
        </Listed>
        <Row>
          <Button label="Make an OpenPGP key" onPress={() => router.push('/keys/openpgp/new' as never)} />
        </Row>
      </Section>
      {old.length === 0 ? null : (
        <Section title="OpenPGP keys kept for reading">
          <Panel>{old.map((own, index) => line(own, index === old.length - 1))}</Panel>
        </Section>
      )}
    </>
  );
}

const NoKeys = () => (
  <Empty title="None yet">
    For correspondents who use OpenPGP rather than certificates. Making one takes some seconds, and nobody has to be
    asked.
  </Empty>
);

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
