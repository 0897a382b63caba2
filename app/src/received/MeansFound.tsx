/**
 * Keys and certificates that came with a mail: whoever answers with one can be written to under it from now on, once
 * the worker has looked.
 */
import { fromBase64Url, sameBytes } from '@under-lock/core/bytes';
import { Line, Panel, Section, Text } from '@under-lock/ui';
import { useNow } from '../clock';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { type OpenedMail } from '../threads/keys/opening';
import { CertificatesFound } from './CertificatesFound';
import { currentKey } from '../people/keys';
import { personAt } from '@under-lock/core/people/find';
import { usePeople } from '../people/person';
import { KeepKey } from './KeepKey';

const along = {
  autocrypt: 'Told in the head of the mail (Autocrypt).',
  mail: 'Came with it as a file.',
  text: 'Stands in its text.',
} as const;

/** A mail’s keys that are worth a look: what its head repeats each time and is kept already is not. */
export function useNewKeys({ keys, message }: OpenedMail): OpenedMail['keys'] {
  const { data: people } = usePeople();
  const person = people === undefined ? undefined : personAt(people, message.from.address)?.value;
  const kept = person === undefined ? undefined : currentKey(person);
  return keys.filter(
    ({ view, from }) =>
      from !== 'autocrypt' || kept?.fingerprint !== view.fingerprint || !sameBytes(fromBase64Url(kept.key), view.bytes),
  );
}

export function MeansFound({ mail: { certificates, message }, keys }: { mail: OpenedMail; keys: OpenedMail['keys'] }) {
  const now = useNow();
  return (
    <>
      {keys.length === 0 ? null : (
        <Section title="OpenPGP keys that came with it" aside={String(keys.length)}>
          <Panel>
            {keys.map(({ view, verdict, from }, index) => (
              <Line key={view.fingerprint} last={index === keys.length - 1}>
                <KeyFacts view={view} verdict={verdict} now={now} />
                <Text kind="small" tone="soft">
                  {along[from]}
                </Text>
                {verdict.level === 'stop' ? null : <KeepKey view={view} holder={message.from} from={from} />}
              </Line>
            ))}
          </Panel>
        </Section>
      )}
      {certificates.length === 0 ? null : (
        <CertificatesFound name={message.messageId} found={certificates} holder={message.from} />
      )}
    </>
  );
}
