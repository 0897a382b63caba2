/** What was exchanged with a person, the newest first: a way to each, and to all of it. */
import { type Hit } from '@under-lock/core/search/scan';
import { listedInWords } from '@under-lock/core/when';
import { Banner, Line, Loading, Panel, Row, Section, Text } from '@under-lock/ui';
import { StyleSheet } from 'react-native';
import { zone } from '../clock';
import { queryOf, readAsked } from '../find/asked';
import { useFound } from '../find/useFound';
import { problemWords } from '../problem-words';
import { WayLink } from '../shell/WayLink';

const SHOWN = 6;
const paths: Record<Hit['kind'], string> = { sent: '/mail', held: '/mail/received', mail: '/mail/in' };

export function Exchanged({ address, now }: { address: string; now: Date }) {
  const asked = readAsked({ who: address });
  const { found, busy, error } = useFound(asked, SHOWN);
  const all =
    found !== undefined && found.total > SHOWN ? (
      <WayLink href={`/mail${queryOf(asked)}`} label={`All ${found.total}`} forward />
    ) : null;
  return (
    <Section title="Exchanged" aside={all}>
      <Panel>
        {error === undefined ? null : (
          <Line last>
            <Banner tone="brick">{problemWords(error)}</Banner>
          </Line>
        )}
        {found === undefined || (found.total === 0 && busy) ? (
          error === undefined ? (
            <Loading what="Looking through your mail" />
          ) : null
        ) : found.total === 0 ? (
          <Line last>
            <Text tone="soft">Nothing yet.</Text>
          </Line>
        ) : (
          <Line last>
            {found.hits.map(({ id, kind, at, subject }) => (
              <Row key={id} style={styles.row}>
                <Text
                  kind="small"
                  tone="soft"
                  aria-label={`${kind === 'sent' ? 'Sent' : 'Came'} ${listedInWords(new Date(at), now, zone)}`}
                  style={styles.when}
                >
                  {`${listedInWords(new Date(at), now, zone)} ${kind === 'sent' ? '→' : '←'}`}
                </Text>
                <WayLink href={`${paths[kind]}/${id}`} label={subject || '(no subject)'} forward />
              </Row>
            ))}
          </Line>
        )}
      </Panel>
    </Section>
  );
}

const styles = StyleSheet.create({ row: { flexWrap: 'nowrap' }, when: { width: 84 } });
