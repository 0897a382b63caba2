/** The worker's own OpenPGP keys on the Keys page: those in use, and those kept for reading. */
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { Button, Empty, StateMark, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { router } from 'expo-router';
import { Lines, Listed } from '../../shell/Listed';
import { ListLine } from '../../shell/ListLine';
import { ListRow, ListSection } from '../../shell/ListScreen';
import { VerdictMark } from '../Facts';
import { keyValidityInWords } from './KeyFacts';
import { type OwnOpenPgpKey } from './own-key';
import { isOldKey, useOpenPgpKeys, useOpenPgpVerdicts } from './useOpenPgpKeys';
import { type OpenPgpVerdictView } from './view';

interface LineProps {
  own: OwnOpenPgpKey;
  verdict: OpenPgpVerdictView | undefined;
  now: Date;
  last: boolean;
}

function KeyLine({ own, verdict, now, last }: LineProps) {
  const { view } = own;
  const old = isOldKey(own, now);
  const title = view.addresses.join(', ') || view.name;
  const what =
    own.purpose === 'certifying'
      ? 'Vouches for colleagues’ keys'
      : own.purpose === 'programs'
        ? 'Signs what your mail programs send'
        : `${view.parts[0]?.algorithm ?? ''}, version ${view.version}`;
  return (
    <ListLine
      href={`/keys/openpgp/${own.id}`}
      label={`OpenPGP key for ${title}, ${keyValidityInWords(view, now)}`}
      title={title}
      shapes={<LockShape shape="diamond" state={old ? 'outline' : 'filled'} />}
      about={`${what}; ${keyValidityInWords(view, now)}`}
      mark={
        view.revocation !== undefined ? (
          <StateMark tone="stopped" word="revoked" />
        ) : old ? (
          <StateMark tone="over" word="for reading only" />
        ) : (
          <VerdictMark verdict={verdict} />
        )
      }
      last={last}
    >
      {old ? null : (
        <>
          {view.expiresAt !== undefined && runsOutSoon({ notAfter: view.expiresAt }, now) ? (
            <Text kind="small" tone="amber">
              ▲ Runs out soon: lengthen it in good time
            </Text>
          ) : null}
          {own.backedUpAt === undefined && own.purpose !== 'programs' ? (
            <Text kind="small" tone="amber">
              ▲ Not backed up: were this vault lost, mail sealed to it could not be read any more
            </Text>
          ) : null}
        </>
      )}
    </ListLine>
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
      <ListSection title="Your OpenPGP keys">
        <Listed
          items={data === undefined ? undefined : current}
          error={error}
          fetching="Opening your OpenPGP keys"
          empty={<NoKeys hadOne={old.length > 0} />}
        >
          {line}
        </Listed>
        <ListRow>
          <Button kind="quiet" label="Make an OpenPGP key" onPress={() => router.push('/keys/openpgp/new' as never)} />
        </ListRow>
      </ListSection>
      {old.length === 0 ? null : (
        <ListSection title="OpenPGP keys kept for reading">
          <Lines items={old}>{line}</Lines>
        </ListSection>
      )}
    </>
  );
}

const NoKeys = ({ hadOne }: { hadOne: boolean }) => (
  <Empty title={hadOne ? 'None that is valid' : 'None yet'}>
    {`${hadOne ? 'What you had is kept below for reading.' : 'For correspondents who use OpenPGP rather than certificates.'} Making one takes some seconds, and nobody has to be asked.`}
  </Empty>
);
