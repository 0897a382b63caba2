/** An OpenPGP key in words, the same for one's own and for others'. */
import { dayInWords } from '@under-lock/core/when';
import { Text } from '@under-lock/ui';
import { StyleSheet } from 'react-native';
import { zone } from '../../clock';
import { listed } from '../../handling/words';
import { Facts, Findings, VerdictMark } from '../Facts';
import { usesInWords, validityInWords } from '../words';
import { Fingerprint } from './Fingerprint';
import { type KeyPartView, type OpenPgpVerdictView, type OpenPgpView } from './view';

const DISTANT = new Date('9999-12-31T00:00:00Z');

/** What a page calls now may be a minute old: a key that has just been made is in force. */
const JUST_MADE_MS = 5 * 60_000;

export function keyValidityInWords(
  { createdAt, expiresAt }: Pick<OpenPgpView, 'createdAt' | 'expiresAt'>,
  now: Date,
): string {
  const ahead = createdAt.getTime() > now.getTime() + JUST_MADE_MS;
  return expiresAt === undefined && !ahead
    ? 'without an end'
    : validityInWords({ notBefore: ahead ? createdAt : now, notAfter: expiresAt ?? DISTANT }, now);
}

/** One part in a sentence. */
function partInWords({ algorithm, primary, sign, encrypt, expiresAt, revokedAt }: KeyPartView, now: Date): string {
  const uses = [
    ...(primary ? ['stands for the whole key'] : []),
    ...(sign ? ['signs'] : []),
    ...(encrypt ? ['opens what is encrypted'] : []),
  ];
  const end =
    revokedAt !== undefined && !primary
      ? `; revoked ${dayInWords(revokedAt, now, zone)}`
      : expiresAt === undefined
        ? ''
        : `; until ${dayInWords(expiresAt, now, zone)}`;
  return `${algorithm}: ${uses.length === 0 ? 'is not used for mail' : listed(uses, 'and')}${end}.`;
}

interface Props {
  view: OpenPgpView;
  verdict: OpenPgpVerdictView | undefined;
  now: Date;
  unmarked?: boolean;
}

export function KeyFacts({ view, verdict, now, unmarked = false }: Props) {
  return (
    <Facts
      name={view.name || view.addresses[0] || 'A key without a name'}
      addresses={view.addresses}
      about={`OpenPGP key of ${dayInWords(view.createdAt, now, zone)}; ${keyValidityInWords(view, now)}; ${usesInWords(view)}${view.retired.length === 0 ? '' : `; no longer for ${listed(view.retired, 'and')}`}.`}
      mark={unmarked ? null : <VerdictMark verdict={verdict} />}
      notes={
        verdict === undefined ? null : (
          <>
            {verdict.vouchedBy.length === 0 ? null : (
              <Text kind="small" tone="soft">{`${listed(
                verdict.vouchedBy.map(({ name }) => name),
                'and',
              )} vouch${verdict.vouchedBy.length === 1 ? 'es' : ''} for it.`}</Text>
            )}
            <Findings verdict={verdict} />
          </>
        )
      }
      details={
        <>
          <Fingerprint view={view} />
          <Text
            kind="small"
            tone="soft"
          >{`Version ${view.version}${view.readsNewest ? '; its holder’s program reads the newest format' : ''}. Made of ${view.parts.length === 1 ? 'one part' : `${view.parts.length} parts`}:`}</Text>
          {view.parts.map((part) => (
            <Text key={part.fingerprint} kind="small" tone="soft" style={styles.wrap}>
              {partInWords(part, now)}
            </Text>
          ))}
        </>
      }
    />
  );
}

const styles = StyleSheet.create({ wrap: { overflowWrap: 'anywhere' } as object });
