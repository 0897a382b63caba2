/** A certificate in words: whose, by whom, until when, for what; its fingerprint to compare by phone; the path up to who is trusted. The same for one's own and for others'. */
import { Banner, border, Row, StateMark, Stack, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { type CertificateView, type VerdictView } from './certificate-view';
import { fingerprintInGroups, findingWords, usesInWords, validityInWords, verdictWord } from './words';

export function VerdictMark({ verdict }: { verdict: VerdictView | undefined }) {
  if (verdict === undefined) return <StateMark tone="over" word="being checked" />;
  const { tone, word } = verdictWord(verdict);
  return <StateMark tone={tone} word={word} />;
}

export function Findings({ verdict }: { verdict: VerdictView }) {
  return (
    <>
      {verdict.findings.map((finding) => {
        const note = finding.code === 'not-checked' || finding.code === 'expired-since' || finding.code === 'revoked-since';
        return <Text key={finding.code} kind="small" tone={note ? 'amber' : 'brick'}>{`${note ? '▲' : '■'} ${findingWords(finding)}`}</Text>;
      })}
    </>
  );
}

/** `unjudged`: before anybody was asked, as when a file has just been opened. */
export function CertificateFacts({ view, verdict, now, failed, unjudged = false }: { view: CertificateView; verdict: VerdictView | undefined; now: Date; failed?: string | undefined; unjudged?: boolean }) {
  const [more, setMore] = useState(false);
  return (
    <Stack style={styles.tight}>
      <Row style={styles.between}>
        <Text kind="strong" style={styles.wrap}>{view.name}</Text>
        {failed === undefined && !unjudged ? <VerdictMark verdict={verdict} /> : null}
      </Row>
      <Text kind="small" style={styles.wrap}>{view.addresses.length === 0 ? 'names no address' : view.addresses.join(', ')}</Text>
      <Text kind="small" tone="soft" style={styles.wrap}>{`${view.organization === '' || view.organization === view.name ? '' : `${view.organization}. `}Issued by ${view.issuer}; ${validityInWords(view, now)}; ${usesInWords(view)}.`}</Text>
      {verdict?.personal === true ? <Text kind="small" tone="amber">▲ Only you trust its authority; your office does not.</Text> : null}
      {verdict === undefined ? null : <Findings verdict={verdict} />}
      {failed === undefined ? null : <Banner tone="amber">{failed}</Banner>}
      <TextButton label={more ? 'Hide the details' : 'Fingerprint and details'} describe={`${more ? 'Hide the details' : 'Fingerprint and details'} of ${view.name}`} onPress={() => setMore(!more)} />
      {more ? (
        <Stack style={styles.tight}>
          <Text kind="small" tone="soft">Fingerprint (SHA-256). Read it out to each other on the phone: every group must be the same.</Text>
          <Text kind="mono" style={styles.wrap}>{fingerprintInGroups(view.fingerprint)}</Text>
          <Text kind="small" tone="soft" style={styles.wrap}>{`Key ${view.key}. Serial number ${view.serial}.`}</Text>
          {verdict === undefined || verdict.path.length < 2 ? null : <Text kind="small" tone="soft" style={styles.wrap}>{`Trusted through ${verdict.path.map(({ name }) => name).join(' › ')}.`}</Text>}
        </Stack>
      ) : null}
    </Stack>
  );
}

const styles = StyleSheet.create({
  tight: { gap: border.strong },
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
