/**
 * A certificate in words: whose, by whom, until when, for what; its fingerprint to compare by phone; the path up to who
 * is trusted. The same for one's own and for others'.
 */
import { Banner, Row, Text } from '@under-lock/ui';
import { StyleSheet } from 'react-native';
import { CopyButton } from '../shell/CopyButton';
import { type CertificateView, type VerdictView } from './certificate-view';
import { Facts, Findings, VerdictMark } from './Facts';
import { fingerprintInGroups, usesInWords, validityInWords } from './words';

/** `unmarked`: its state is said beside it, or nobody was asked yet. */
export function CertificateFacts({
  view,
  verdict,
  now,
  failed,
  unmarked = false,
}: {
  view: CertificateView;
  verdict: VerdictView | undefined;
  now: Date;
  failed?: string | undefined;
  unmarked?: boolean;
}) {
  return (
    <Facts
      name={view.name}
      addresses={view.addresses}
      about={`${view.organization === '' || view.organization === view.name ? '' : `${view.organization}. `}Issued by ${view.issuer}; ${validityInWords(view, now)}; ${usesInWords(view)}.`}
      mark={failed === undefined && !unmarked ? <VerdictMark verdict={verdict} /> : null}
      notes={
        <>
          {verdict?.personal === true ? (
            <Text kind="small" tone="amber">
              ▲ Only you trust its authority; your office does not.
            </Text>
          ) : null}
          {verdict === undefined ? null : <Findings verdict={verdict} />}
          {failed === undefined ? null : <Banner tone="amber">{failed}</Banner>}
        </>
      }
      details={
        <>
          <Text kind="small" tone="soft">
            Fingerprint (SHA-256). Read it out to each other on the phone: every group must be the same.
          </Text>
          <Text kind="mono" style={styles.wrap}>
            {fingerprintInGroups(view.fingerprint)}
          </Text>
          <Row>
            <CopyButton value={view.fingerprint} what="the fingerprint" />
          </Row>
          <Text kind="small" tone="soft" style={styles.wrap}>{`Key ${view.key}. Serial number ${view.serial}.`}</Text>
          {verdict === undefined || verdict.path.length < 2 ? null : (
            <Text
              kind="small"
              tone="soft"
              style={styles.wrap}
            >{`Trusted through ${verdict.path.map(({ name }) => name).join(' › ')}.`}</Text>
          )}
        </>
      }
    />
  );
}

const styles = StyleSheet.create({ wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object });
