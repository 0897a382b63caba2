/**
 * A person's OpenPGP key: found where they publish it, brought from a file or pasted, shown with what is judged of it,
 * compared by phone. A different one is shown beside the old before it takes its place.
 */
import { fromBase64Url } from '@under-lock/core/bytes';
import { dayInWords } from '@under-lock/core/when';
import { Button, Choice, Field, Line, Panel, Result, Row, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import useSWR, { mutate } from 'swr';
import { useNow, zone } from '../clock';
import { listed } from '../handling/words';
import { chosenFile } from '../keys/Backup';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { type OpenPgpView } from '../keys/openpgp/view';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { keysDoor } from '../threads/keys/door';
import { reading } from '../threads/keys/reading';
import { type KeyOrigin } from '@under-lock/core/people/kept-person';
import { currentKey, withKey, withLearnt } from '../people/keys';
import { Comparison } from '../people/Comparison';
import { judgedKeys, type OfferedKey as Offered, publishedKeys } from '../people/look-up';
import { type Person, type PersonKey } from '@under-lock/core/people/kept-person';
import { withChecked } from '../people/person';
import { useAttempt } from '../shell/useAttempt';
import { Offers } from './Offers';

const originWords: Record<KeyOrigin, string> = {
  file: 'from a file',
  text: 'from pasted text',
  mail: 'from a mail',
  autocrypt: 'from the head of a mail',
  wkd: 'from their own domain’s directory',
  directory: 'from the key directory',
  office: 'from the office’s own directory',
  choice: 'as they gave it in the reading room',
};

const verdictOf = ({ fingerprint, refreshedAt = '', checked }: PersonKey, address: string) => [
  'key-verdict',
  address,
  fingerprint,
  refreshedAt,
  checked?.at ?? '',
];

/** What is judged of it for this address. */
export function useJudgedKey(kept: PersonKey | undefined, address: string) {
  return useSWR(kept === undefined ? null : verdictOf(kept, address), async () => {
    const key = fromBase64Url(kept!.key);
    const [verdict] = await keysDoor().openpgp.judge(
      [{ key, use: 'encrypt', address, compared: kept!.checked !== undefined }],
      new Date(),
    );
    return { view: await keysDoor().openpgp.view(key), verdict: verdict! };
  });
}

interface Props {
  person: Person;
  onChange: (change: Partial<Pick<Person, 'keys' | 'mailForm'>>) => Promise<void>;
}

type Attempts = ReturnType<typeof useAttempt>;
type Judged = NonNullable<ReturnType<typeof useJudgedKey>['data']>;

/** The keys that were found for them and are not taken yet: offered, and taken. The same key with news is learnt. */
function useOffers({ person, onChange }: Props, { attempt }: Attempts) {
  const kept = currentKey(person);
  const [offered, setOffered] = useState<readonly Offered[]>([]);
  const offer = async (found: readonly { view: OpenPgpView; from: KeyOrigin }[]): Promise<void> =>
    setOffered(await judgedKeys(person.address, found, kept?.checked === undefined ? undefined : kept.fingerprint));
  const learn = async (view: OpenPgpView): Promise<void> => {
    const merged = await keysDoor().openpgp.merged(fromBase64Url(kept!.key), view.bytes);
    if (merged !== undefined) await onChange({ keys: withLearnt(person.keys, merged, new Date()) });
  };
  const change = async ({ view, verdict, from }: Offered): Promise<void> => {
    const keys = withKey(person.keys, view, from, new Date());
    const [taken] = keys;
    // Judged already: shown at once, so that nothing below it moves.
    if (taken !== undefined && taken.checked === undefined)
      await mutate(verdictOf(taken, person.address), { view, verdict }, { revalidate: false });
    await onChange({ keys });
  };
  const take = (one: Offered): Promise<void> =>
    attempt(async () => {
      await (one.view.fingerprint === kept?.fingerprint ? learn(one.view) : change(one));
      setOffered([]);
    });
  return { offered, offer, learn, take };
}

/** Where a key comes from: looked up, a file, pasted text. */
function useSources(
  { person }: Pick<Props, 'person'>,
  { offer, learn }: Pick<ReturnType<typeof useOffers>, 'offer' | 'learn'>,
  { say, attempt }: Attempts,
) {
  const kept = currentKey(person);
  const [pasting, setPasting] = useState<string | undefined>();
  const look = (): Promise<void> =>
    attempt(async () => {
      const { found: views, failed } = await publishedKeys(person.address, kept?.fingerprint);
      const unanswered = failed.length === 0 ? '' : ` ${listed(failed, 'and')} did not answer; try again later.`;
      // The same key with news is no other key: it is taken, and said.
      const same = views.filter(({ view }) => view.fingerprint === kept?.fingerprint);
      for (const { view } of same) await learn(view);
      const others = views.filter(({ view }) => view.fingerprint !== kept?.fingerprint);
      if (views.length === 0)
        return say({
          tone: 'amber',
          text: `No key for ${person.address} is published at their own domain or in the key directory. Ask them for a signed mail, or for their key as a file.${unanswered}`,
        });
      if (others.length === 0) return say({ tone: 'sea', text: `Looked up: it is the key you have.${unanswered}` });
      return offer(others);
    });
  const bring = async (bytes: Uint8Array, from: KeyOrigin, nothing: string): Promise<void> => {
    const found = await reading(bytes.length, (doors) => doors.openpgp.inFile(bytes));
    if (found.length === 0) return say({ tone: 'brick', text: nothing });
    setPasting(undefined);
    return offer(found.map((view) => ({ view, from })));
  };
  const choose = (): Promise<void> =>
    attempt(async () => {
      const file = await chosenFile();
      if (file === undefined) return undefined;
      if ('problem' in file) return say({ tone: 'brick', text: file.problem });
      return bring(
        file.bytes,
        'file',
        'There is no OpenPGP key in this file. Files with a key end in .asc, .gpg, .pgp or .key.',
      );
    });
  const paste = (): Promise<void> =>
    attempt(() =>
      bring(
        new TextEncoder().encode(pasting ?? ''),
        'text',
        'There is no whole OpenPGP key in this text. It begins with -----BEGIN PGP PUBLIC KEY BLOCK----- and ends with the line that says END.',
      ),
    );
  return { pasting, setPasting, look, choose, paste };
}

interface KeptProps {
  kept: PersonKey;
  judged: Judged | undefined;
  /** Why it can't be judged. */
  judging: unknown;
  name: string;
  mailForm: NonNullable<Person['mailForm']>;
  busy: boolean;
  onMailForm: (form: NonNullable<Person['mailForm']>) => void;
  onCompare: (checked: PersonKey['checked']) => Promise<void>;
  onRemove: () => void;
}

function KeptKey({ kept, judged, judging, name, mailForm, busy, onMailForm, onCompare, onRemove }: KeptProps) {
  const now = useNow();
  const { account } = useOpenSession();
  const day = (at: string): string => dayInWords(new Date(at), now, zone);
  const again = kept.refreshedAt === undefined ? '' : `; looked up again on ${day(kept.refreshedAt)}`;
  return (
    <Panel>
      <Line last>
        {judged === undefined ? (
          <Text tone="soft">{judging === undefined ? 'Judging it …' : problemWords(judging)}</Text>
        ) : (
          <KeyFacts view={judged.view} verdict={judged.verdict} now={now} unmarked />
        )}
        <Text kind="small" tone="soft">{`Taken ${originWords[kept.from]} on ${day(kept.addedAt)}${again}.`}</Text>
        <Comparison
          of="the OpenPGP key"
          name={name}
          fingerprint={judged?.view.fingerprint}
          {...(judged === undefined ? {} : { words: judged.view.words })}
          checked={kept.checked}
          by={account.name}
          busy={busy}
          onChange={onCompare}
        >
          <Button kind="quiet" label="Remove it" describe="Remove it: the OpenPGP key" busy={busy} onPress={onRemove} />
        </Comparison>
        <Choice
          label="How their mail program takes it"
          value={mailForm}
          onChange={onMailForm}
          options={[
            {
              value: 'mime',
              label: 'As one encrypted mail (PGP/MIME)',
              detail: 'Programs that know OpenPGP read it at once; subject and names of files are hidden, too',
            },
            {
              value: 'attachments',
              label: 'As encrypted files',
              detail: 'For programs that don’t: text and each file are opened one by one with their key program',
            },
          ]}
        />
      </Line>
    </Panel>
  );
}

const foundWords = (from: KeyOrigin): string =>
  originWords[from].replace(/^from/, 'in').replace('in a file', 'in the file').replace('in pasted text', 'in the text');

function takeWords(kept: PersonKey | undefined, { view }: Offered): string {
  if (kept === undefined) return 'Take it';
  return view.fingerprint === kept.fingerprint ? 'Take what is new' : 'Take it instead';
}

const ANOTHER =
  'This is another key than the one you have for them. Somebody who makes a new one says so; ask them, by phone, before you take it.';

function OfferedOnes({
  offered,
  kept,
  busy,
  onTake,
}: {
  offered: readonly Offered[];
  kept: PersonKey | undefined;
  busy: boolean;
  onTake: (one: Offered) => void;
}) {
  const now = useNow();
  const isForeign = kept !== undefined && offered.some(({ view }) => view.fingerprint !== kept.fingerprint);
  return (
    <Offers
      offered={offered}
      warning={isForeign ? ANOTHER : undefined}
      busy={busy}
      idOf={({ view }) => view.fingerprint}
      facts={({ view, verdict, from }) => (
        <>
          <KeyFacts view={view} verdict={verdict} now={now} />
          <Text kind="small" tone="soft">{`Found ${foundWords(from)}.`}</Text>
        </>
      )}
      take={(one) => ({
        label: takeWords(kept, one),
        of: `OpenPGP key of ${one.view.name || one.view.addresses[0] || 'nobody'}`,
      })}
      onTake={onTake}
    />
  );
}

function Pasting({
  busy,
  pasting,
  setPasting,
  paste,
}: Pick<ReturnType<typeof useSources>, 'pasting' | 'setPasting' | 'paste'> & { busy: boolean }) {
  if (pasting === undefined) return null;
  return (
    <Stack>
      <Field
        label="The key as text"
        value={pasting}
        onChangeText={setPasting}
        multiline
        code
        autoComplete="off"
        hint="From -----BEGIN PGP PUBLIC KEY BLOCK----- to the line that says END."
      />
      <Row>
        <Button
          kind="main"
          label="Read it"
          describe="Read it: the pasted key"
          busy={busy}
          onPress={() => void paste()}
        />
        <Button label="Not now" describe="Not now: don’t paste a key" onPress={() => setPasting(undefined)} />
      </Row>
    </Stack>
  );
}

export function PersonKeys({ person, onChange }: Props) {
  const kept = currentKey(person);
  const { data: judged, error: judging } = useJudgedKey(kept, person.address);
  const attempts = useAttempt();
  const { busy, said, attempt } = attempts;
  const { offered, take, ...offers } = useOffers({ person, onChange }, attempts);
  const sources = useSources({ person }, offers, attempts);
  const { pasting, setPasting, look, choose } = sources;
  const all = person.keys ?? [];
  return (
    <Stack>
      {kept === undefined ? (
        <Text kind="small" tone="soft">
          For people who use OpenPGP. With their key a copy can be encrypted into their own mail program, where the
          handling allows copies.
        </Text>
      ) : (
        <KeptKey
          kept={kept}
          judged={judged}
          judging={judging}
          name={person.name || person.address}
          mailForm={person.mailForm ?? 'mime'}
          busy={busy}
          onMailForm={(mailForm) => void attempt(() => onChange({ mailForm }))}
          onCompare={(checked) =>
            attempt(() => onChange({ keys: all.map((one) => (one === kept ? withChecked(one, checked) : one)) }))
          }
          onRemove={() => void attempt(() => onChange({ keys: all.filter((one) => one !== kept) }))}
        />
      )}
      <Result said={said} />
      <OfferedOnes offered={offered} kept={kept} busy={busy} onTake={(one) => void take(one)} />
      <Pasting {...sources} busy={busy} />
      <Row>
        <Button label="Look the key up" busy={busy} onPress={() => void look()} />
        <Button
          label="From a file"
          describe="From a file: bring their OpenPGP key"
          busy={busy}
          onPress={() => void choose()}
        />
        {pasting === undefined ? (
          <Button label="Paste it" describe="Paste it: their OpenPGP key as text" onPress={() => setPasting('')} />
        ) : null}
      </Row>
    </Stack>
  );
}
