/** Keys: the worker's own certificates, what they still need, and the old ones that are kept for reading. */
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { Button, Empty, StateMark, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { router, usePathname } from 'expo-router';
import { type ReactNode } from 'react';
import { BookList } from '../passwords/BookList';
import { addressKey } from '@under-lock/core/people/address';
import { useNow } from '../clock';
import { currentCertificate, type RecipientCertificates, useRecipientCertificates } from '../people/certificates';
import { currentKey } from '../people/keys';
import { type Person } from '@under-lock/core/people/kept-person';
import { usePeople } from '../people/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Lines, Listed } from '../shell/Listed';
import { ListAndPage, ListIndex } from '../shell/ListAndPage';
import { ListLine } from '../shell/ListLine';
import { ListRow, ListScreen, ListSection } from '../shell/ListScreen';
import { Screen } from '../shell/Screen';
import { VerdictMark } from '../keys/Facts';
import { type VerdictView } from '../keys/certificate-view';
import { Forecast } from '../keys/Forecast';
import { LostDevice } from './LostDevice';
import { OwnAnchors } from '../keys/OwnAnchors';
import { type OwnOpenPgpKey } from '../keys/openpgp/own-key';
import { isOldKey, useOpenPgpKeys } from '../keys/openpgp/useOpenPgpKeys';
import { type EndingKey, forecast, type Judged } from '../keys/run-out';
import { OpenPgpKeys } from '../keys/openpgp/OpenPgpKeys';
import { isOld, useOwnKeys, useVerdicts } from '../keys/useKeys';
import { purposeWords, validityInWords } from '../keys/words';

type OwnListed = NonNullable<ReturnType<typeof useOwnKeys>['data']>[number];

interface LineProps {
  listed: OwnListed;
  verdict: VerdictView | undefined;
  now: Date;
  last: boolean;
}

function KeyLine({ listed: { key, view }, verdict, now, last }: LineProps) {
  const title = view === undefined ? 'Asked for, not issued yet' : view.addresses.join(', ') || view.name;
  return (
    <ListLine
      href={`/keys/${key.id}`}
      label={`${title}, ${view === undefined ? '' : validityInWords(view, now)}`}
      title={title}
      shapes={
        <LockShape shape="hexagon" state={view === undefined || key.retiredAt !== undefined ? 'outline' : 'filled'} />
      }
      about={
        view === undefined
          ? 'The key is made and kept; the authority has not answered.'
          : `${key.forPrograms === true ? 'Signs what your mail programs send' : purposeWords[key.purpose]}; issued by ${view.issuer}; ${validityInWords(view, now)}`
      }
      mark={
        view === undefined ? (
          <StateMark tone="wants" word="not issued yet" />
        ) : key.retiredAt === undefined ? (
          <VerdictMark verdict={verdict} />
        ) : (
          <StateMark tone="over" word="for reading only" />
        )
      }
      last={last}
    >
      {view === undefined || key.retiredAt !== undefined ? null : (
        <>
          {runsOutSoon(view, now) ? (
            <Text kind="small" tone="amber">
              ▲ Runs out soon: renew it in good time
            </Text>
          ) : null}
          {key.backedUpAt === undefined && key.forPrograms !== true ? (
            <Text kind="small" tone="amber">
              {key.purpose === 'sign'
                ? '▲ Not backed up: were this vault lost, you would need a new one'
                : '▲ Not backed up: were this vault lost, mail sealed to it could not be read any more'}
            </Text>
          ) : null}
        </>
      )}
    </ListLine>
  );
}

/** What has been judged by now: one’s own in use, and people’s. */
function judgedNow(
  current: readonly OwnListed[],
  verdicts: ReadonlyMap<string, VerdictView> | undefined,
  people: readonly Kept<Person>[],
  theirs: RecipientCertificates,
): Judged[] {
  const own = current.flatMap(({ key }): Judged[] => {
    const verdict = verdicts?.get(key.id);
    return verdict === undefined ? [] : [{ who: 'you', kind: 'own', verdict }];
  });
  const others = people.flatMap(({ value: { name, address } }): Judged[] => {
    const verdict = theirs.get(addressKey(address))?.verdict;
    return verdict === undefined ? [] : [{ who: name || address, kind: 'person', verdict }];
  });
  return [...own, ...others];
}

/** OpenPGP keys in use that end some day: one’s own, and people’s by what was noted when they were kept. */
function endingKeys(own: readonly OwnOpenPgpKey[], people: readonly Kept<Person>[], now: Date): EndingKey[] {
  const mine = own
    .filter((one) => !isOldKey(one, now))
    .flatMap(({ view }): EndingKey[] =>
      view.expiresAt === undefined
        ? []
        : [{ who: 'you', kind: 'own', at: view.expiresAt, name: view.name, fingerprint: view.fingerprint }],
    );
  const others = people.flatMap(({ value }): EndingKey[] => {
    const kept = currentKey(value);
    return kept?.notAfter === undefined
      ? []
      : [
          {
            who: value.name || value.address,
            kind: 'person',
            at: new Date(kept.notAfter),
            name: value.name,
            fingerprint: kept.fingerprint,
          },
        ];
  });
  return [...mine, ...others];
}

const NoCertificates = ({ hadOne }: { hadOne: boolean }) => (
  <Empty title={hadOne ? 'None that is valid' : 'None yet'}>
    {hadOne
      ? 'What you had is kept below for reading. Making a new key and having it certified takes about a minute.'
      : 'Making a key and having it certified takes about a minute. If you have one in another program, bring it from its backup file.'}
  </Empty>
);

function KeyList({ children }: { children?: ReactNode }) {
  const { data, error } = useOwnKeys();
  const { data: verdicts } = useVerdicts(data);
  const now = useNow();
  const current = (data ?? []).filter((one) => !isOld(one, now));
  const old = (data ?? []).filter((one) => isOld(one, now));
  const line = (listed: OwnListed, last: boolean) => (
    <KeyLine key={listed.key.id} listed={listed} verdict={verdicts?.get(listed.key.id)} now={now} last={last} />
  );
  return (
    <ListScreen title="Keys" aside={<Button label="Get a certificate" onPress={() => router.push('/keys/new')} />}>
      <ListSection title="Your certificates">
        <Listed
          items={data === undefined ? undefined : current}
          error={error}
          fetching="Opening your keys"
          empty={<NoCertificates hadOne={old.length > 0} />}
        >
          {line}
        </Listed>
        <ListRow>
          <Button kind="quiet" label="Bring one from a file" onPress={() => router.push('/keys/import')} />
        </ListRow>
      </ListSection>
      <OpenPgpKeys now={now} />
      <ListSection title="Passwords for locked files">
        <Lines items={['book']}>
          {(key) => (
            <ListLine
              key={key}
              href="/keys/passwords"
              label="Password book"
              title="Password book"
              shapes={<LockShape shape="sheet" state="filled" />}
              about="For people with neither certificate nor key"
              last
            />
          )}
        </Lines>
      </ListSection>
      {children}
      {old.length === 0 ? null : (
        <ListSection title="Kept for reading">
          <Lines items={old}>{line}</Lines>
        </ListSection>
      )}
    </ListScreen>
  );
}

/** What belongs to no key alone: what runs out, a lost device, authorities trusted for oneself. */
function KeysOverview() {
  const { data } = useOwnKeys();
  const { data: verdicts } = useVerdicts(data);
  const now = useNow();
  const { data: people } = usePeople();
  const { data: ownKeys } = useOpenPgpKeys();
  const { judged: theirs } = useRecipientCertificates(
    people,
    (people ?? []).filter(({ value }) => currentCertificate(value) !== undefined).map(({ value }) => value.address),
  );
  const current = (data ?? []).filter((one) => !isOld(one, now));
  return (
    <>
      <LostDevice
        inUse={current.flatMap(({ key, view }) => (view === undefined ? [] : [{ key, view }]))}
        keys={(ownKeys ?? []).filter((one) => !isOldKey(one, now))}
      />
      {data === undefined || people === undefined ? null : (
        <Forecast
          ahead={forecast(judgedNow(current, verdicts, people, theirs), endingKeys(ownKeys ?? [], people, now), now)}
          now={now}
        />
      )}
      <OwnAnchors />
    </>
  );
}

/** Keys: the book's list where the book is shown, else the keys'. */
export function KeysPlace() {
  const path = usePathname();
  return <ListAndPage list={path.startsWith('/keys/passwords') ? <BookList /> : <KeyList />} />;
}

export const KeysIndex = () => (
  <ListIndex
    list={
      <KeyList>
        <KeysOverview />
      </KeyList>
    }
  >
    <Screen title="Your keys">
      <Text tone="soft">
        With a certificate or an OpenPGP key you sign what you send, and others can encrypt to you in their own mail
        program. The private half lies sealed in your vault and is used in this browser only.
      </Text>
      <KeysOverview />
    </Screen>
  </ListIndex>
);
