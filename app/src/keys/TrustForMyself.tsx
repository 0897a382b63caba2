/**
 * An authority the office does not trust: this worker may, for themselves alone, once the fingerprint has been compared
 * with what the authority publishes.
 */
import { Button, Dialog, Result, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { useNow } from '../clock';
import { problemWords } from '../problem-words';
import { keysDoor } from '../threads/keys/door';
import { forgetJudgements } from '../threads/keys/reading';
import { type CertificateView, type VerdictView } from './certificate-view';
import { keysChanged } from './useKeys';
import { fingerprintInGroups, validityInWords } from './words';

interface Props {
  view: CertificateView;
  verdict: VerdictView;
  along: readonly Uint8Array[];
  /** To judge anew what was judged before. */ onTrusted?: () => void;
}

export function TrustForMyself({ view, verdict, along, onTrusted }: Props) {
  const now = useNow();
  const [top, setTop] = useState<CertificateView | undefined>();
  const [said, setSaid] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  if (!verdict.findings.some(({ code }) => code === 'unknown-authority')) return null;
  const attempt = (act: () => Promise<void>): void => {
    setBusy(true);
    setSaid(undefined);
    act()
      .catch((error: unknown) => setSaid(problemWords(error)))
      .finally(() => setBusy(false));
  };
  const look = (): void =>
    attempt(async () => {
      const found = await keysDoor().certificates.topOf(view.bytes, along);
      if (found === undefined)
        setSaid(
          'The authority’s own certificate is missing: it did not come along, and this one does not say where to find it. Ask the authority for it as a file.',
        );
      setTop(found);
    });
  const trust = (): void =>
    attempt(async () => {
      await keysDoor().anchors.add(crypto.randomUUID(), top!.bytes, new Date());
      await forgetJudgements('certificates');
      setTop(undefined);
      await keysChanged();
      onTrusted?.();
    });
  return (
    <>
      <Result said={said === undefined ? undefined : { tone: 'amber', text: said }} />
      <Row>
        <Button
          kind="quiet"
          label="Trust the authority for myself"
          describe={`Trust the authority for myself: ${view.issuer}`}
          busy={busy}
          onPress={look}
        />
      </Row>
      {top === undefined ? null : (
        <Dialog
          title={`Trust ${top.name} for yourself?`}
          open
          onClose={() => setTop(undefined)}
          actions={
            <>
              <Button kind="main" label="I compared it: trust it" busy={busy} onPress={trust} />
              <Button label="Leave it" onPress={() => setTop(undefined)} />
            </>
          }
        >
          <Text>{`It can vouch for anybody to you from then on, and to nobody else in the office; ${validityInWords(top, now)}. Compare the fingerprint with what the authority publishes, not with what came in a mail.`}</Text>
          <Text kind="small" tone="soft">
            Fingerprint (SHA-256)
          </Text>
          <Text kind="mono">{fingerprintInGroups(top.fingerprint)}</Text>
        </Dialog>
      )}
    </>
  );
}
