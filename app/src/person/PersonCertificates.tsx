/**
 * A person's certificate: found in the directory or brought from a file, shown with what is judged of it, compared by
 * phone. A different one is shown beside the old before it takes its place.
 */
import { fromBase64Url, sameBytes, toBase64Url } from '@under-lock/core/bytes';
import { dayInWords } from '@under-lock/core/when';
import { Button, Line, Panel, Result, Row, Stack, Text } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import useSWR, { mutate } from 'swr';
import { useNow, zone } from '../clock';
import { chosenFile } from '../keys/Backup';
import { CertificateFacts } from '../keys/CertificateFacts';
import { TrustForMyself } from '../keys/TrustForMyself';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { keysDoor } from '../threads/keys/door';
import { reading } from '../threads/keys/reading';
import { currentCertificate, withCertificate } from '../people/certificates';
import { Comparison } from '../people/Comparison';
import { directoryCertificates, judgedCertificates, type OfferedCertificate as Offered } from '../people/look-up';
import { type Person, type PersonCertificate } from '@under-lock/core/people/kept-person';
import { withChecked } from '../people/person';
import { useAttempt } from '../shell/useAttempt';
import { Offers } from './Offers';

type Source = PersonCertificate['from'];

const sourceWords: Record<Source, string> = {
  file: 'from a file',
  directory: 'from the directory',
  mail: 'from signed mail',
  choice: 'as they gave it in the reading room',
};

const verdictOf = (certificate: string, address: string) => ['verdict', address, certificate];

/** What is judged of it for this address. */
export function useJudgedCertificate(kept: PersonCertificate | undefined, address: string) {
  return useSWR(kept === undefined ? null : verdictOf(kept.certificate, address), async () => {
    const bytes = fromBase64Url(kept!.certificate);
    const [verdict] = await keysDoor().certificates.judge(
      [{ certificate: bytes, use: 'encrypt', address, along: (kept!.chain ?? []).map(fromBase64Url) }],
      new Date(),
    );
    return { view: await keysDoor().certificates.view(bytes), verdict: verdict! };
  });
}

interface Props {
  person: Person;
  /** Another way to one. */ ask?: ReactNode;
  onChange: (certificates: PersonCertificate[]) => Promise<void>;
}

/** The certificates that were found for them and are not taken yet, and the acts that find and take one. */
function useOffers({ person, onChange }: Pick<Props, 'person' | 'onChange'>, { say, attempt }: Attempts) {
  const [offered, setOffered] = useState<readonly Offered[]>([]);
  const offer = (found: readonly Offered[]): void => {
    setOffered(found);
    if (found.length === 0)
      say({ tone: 'amber', text: 'There is only an authority’s certificate in it, and none of a person.' });
  };
  const look = (): Promise<void> =>
    attempt(async () => {
      const found = await directoryCertificates(person.address);
      if (found === undefined)
        return say({
          tone: 'amber',
          text: `The directory has no certificate for ${person.address}. Ask them for a signed mail, or for their certificate as a file.`,
        });
      return offer(found);
    });
  const bring = (): Promise<void> =>
    attempt(async () => {
      const file = await chosenFile();
      if (file === undefined) return undefined;
      if ('problem' in file) return say({ tone: 'brick', text: file.problem });
      const found = await reading(file.bytes.length, (doors) => doors.certificates.inFile(file.bytes));
      if (found.length === 0)
        return say({
          tone: 'brick',
          text: 'There is no certificate in this file. Files with a certificate end in .cer, .crt, .pem, .p7b, .p7c or .vcf.',
        });
      return offer(await judgedCertificates(person.address, found, 'file'));
    });
  const take = ({ view, verdict, from, along }: Offered): Promise<void> =>
    attempt(async () => {
      const certificate = toBase64Url(view.bytes);
      // Judged already: shown at once, so that nothing below it moves.
      await mutate(verdictOf(certificate, person.address), { view, verdict }, { revalidate: false });
      const taken = {
        certificate,
        from,
        notAfter: view.notAfter.toISOString(),
        ...(along.length === 0 ? {} : { chain: along }),
      };
      await onChange(withCertificate(person.certificates, taken, new Date()));
      setOffered([]);
    });
  return { offered, look, bring, take };
}

type Attempts = ReturnType<typeof useAttempt>;
type Judged = NonNullable<ReturnType<typeof useJudgedCertificate>['data']>;

interface KeptProps {
  kept: PersonCertificate;
  judged: Judged | undefined;
  /** Why it can't be judged. */
  judging: unknown;
  name: string;
  busy: boolean;
  onCompare: (checked: PersonCertificate['checked']) => Promise<void>;
  onRemove: () => void;
}

function KeptCertificate({ kept, judged, judging, name, busy, onCompare, onRemove }: KeptProps) {
  const now = useNow();
  const { account } = useOpenSession();
  return (
    <Panel>
      <Line last>
        {judged === undefined ? (
          <Text tone="soft">{judging === undefined ? 'Judging it …' : problemWords(judging)}</Text>
        ) : (
          <>
            <CertificateFacts view={judged.view} verdict={judged.verdict} now={now} unmarked />
            <TrustForMyself view={judged.view} verdict={judged.verdict} along={(kept.chain ?? []).map(fromBase64Url)} />
          </>
        )}
        <Text
          kind="small"
          tone="soft"
        >{`Taken ${sourceWords[kept.from]} on ${dayInWords(new Date(kept.addedAt), now, zone)}.`}</Text>
        <Comparison
          of="the certificate"
          name={name}
          fingerprint={judged?.view.fingerprint}
          checked={kept.checked}
          by={account.name}
          busy={busy}
          onChange={onCompare}
        >
          <Button kind="quiet" label="Remove it" describe="Remove it: the certificate" busy={busy} onPress={onRemove} />
        </Comparison>
      </Line>
    </Panel>
  );
}

const ANOTHER =
  'This is another certificate than the one you have for them. A changed one is usual when the old one runs out; otherwise ask them, by phone, before you take it.';

function OfferedOnes({
  offered,
  hasOne,
  judged,
  busy,
  onTake,
}: {
  offered: readonly Offered[];
  hasOne: boolean;
  judged: Judged | undefined;
  busy: boolean;
  onTake: (one: Offered) => void;
}) {
  const now = useNow();
  const isKept = ({ view }: Offered): boolean => judged !== undefined && sameBytes(view.bytes, judged.view.bytes);
  return (
    <Offers
      offered={offered}
      warning={judged === undefined || offered.every(isKept) ? undefined : ANOTHER}
      busy={busy}
      idOf={({ view }) => view.fingerprint}
      facts={({ view, verdict }) => <CertificateFacts view={view} verdict={verdict} now={now} />}
      take={(one) =>
        isKept(one)
          ? undefined
          : { label: hasOne ? 'Take it instead' : 'Take it', of: `certificate of ${one.view.name}` }
      }
      onTake={onTake}
    />
  );
}

export function PersonCertificates({ person, ask, onChange }: Props) {
  const kept = currentCertificate(person);
  const { data: judged, error: judging } = useJudgedCertificate(kept, person.address);
  const attempts = useAttempt();
  const { busy, said, attempt } = attempts;
  const { offered, look, bring, take } = useOffers({ person, onChange }, attempts);
  const all = person.certificates ?? [];
  return (
    <Stack>
      {kept === undefined ? (
        <Text kind="small" tone="soft">
          With their certificate a copy can be encrypted into their own mail program, where the handling allows copies.
        </Text>
      ) : (
        <KeptCertificate
          kept={kept}
          judged={judged}
          judging={judging}
          name={person.name || person.address}
          busy={busy}
          onCompare={(checked) =>
            attempt(() => onChange(all.map((one) => (one === kept ? withChecked(one, checked) : one))))
          }
          onRemove={() => void attempt(() => onChange(all.filter((one) => one !== kept)))}
        />
      )}
      <Result said={said} />
      <OfferedOnes
        offered={offered}
        hasOne={kept !== undefined}
        judged={kept === undefined ? undefined : judged}
        busy={busy}
        onTake={(one) => void take(one)}
      />
      <Row>
        <Button label="Look in the directory" busy={busy} onPress={() => void look()} />
        <Button label="Bring it from a file" busy={busy} onPress={() => void bring()} />
      </Row>
      {ask}
    </Stack>
  );
}
