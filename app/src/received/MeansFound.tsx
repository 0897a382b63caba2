/** Keys and certificates that came with a mail: whoever answers with one can be written to under it from now on, once the worker has looked. */
import { Line, Panel, Section, Text } from '@under-lock/ui';
import { useNow } from '../clock';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { type OpenedMail } from '../worker/keys/opening';
import { CertificatesFound } from './CertificatesFound';
import { KeepKey } from './KeepKey';

const along = { autocrypt: 'Told in the head of the mail (Autocrypt).', mail: 'Came with it as a file.', text: 'Stands in its text.' } as const;

export function MeansFound({ mail: { keys, certificates, message } }: { mail: OpenedMail }) {
  const now = useNow();
  return (
    <>
      {keys.length === 0 ? null : (
        <Section title="OpenPGP keys that came with it" aside={String(keys.length)}>
          <Panel>
            {keys.map(({ view, verdict, from }, index) => (
              <Line key={view.fingerprint} last={index === keys.length - 1}>
                <KeyFacts view={view} verdict={verdict} now={now} />
                <Text kind="small" tone="soft">{along[from]}</Text>
                {verdict.level === 'stop' ? null : <KeepKey view={view} holder={message.from} from={from} />}
              </Line>
            ))}
          </Panel>
        </Section>
      )}
      {certificates.length === 0 ? null : <CertificatesFound name={message.messageId} found={certificates} holder={message.from} />}
    </>
  );
}
