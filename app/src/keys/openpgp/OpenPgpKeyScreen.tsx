/**
 * One own OpenPGP key: what it is, its backup, its revocation certificate, its end and its addresses, giving it out,
 * replacing and revoking it.
 */
import { publishKey, unpublishKey } from '@under-lock/contract/openpgp';
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { addressKey } from '@under-lock/core/people/address';
import { dayInWords } from '@under-lock/core/when';
import {
  Banner,
  Button,
  Choice,
  Line,
  Loading,
  Panel,
  Result,
  Row,
  Section,
  Stack,
  StateMark,
  Text,
} from '@under-lock/ui';
import { router, useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { api } from '../../api';
import { useNow, zone } from '../../clock';
import { problemWords } from '../../problem-words';
import { saveFile } from '../../save-file';
import { ownAddresses } from '@under-lock/core/people/own-addresses';
import { useOpenSession } from '../../session/session';
import { Screen } from '../../shell/Screen';
import { useAttempt } from '../../shell/useAttempt';
import { BackToList } from '../../shell/ListAndPage';
import { keysDoor } from '../../threads/keys/door';
import { ForPrograms } from '../ForPrograms';
import { Backup, type BackupWork } from '../Backup';
import { KeyFacts } from './KeyFacts';
import { CARRIED, type Carried } from '@under-lock/core/openpgp/kept-key';
import { type OwnOpenPgpKey } from './own-key';
import { RevocationPaper } from './RevocationPaper';
import { RevokeKey } from './RevokeKey';
import { isOldKey, openPgpChanged, useOpenPgpKeys, useOpenPgpVerdicts, usePublished } from './useOpenPgpKeys';
import { type OpenPgpView } from './view';
import { endAfter, type Span, SPANS, spanWords } from './validity';

const back = <BackToList href="/keys" label="Keys" />;

export function OpenPgpKeyScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data, error } = useOpenPgpKeys();
  if (data === undefined)
    return (
      <Screen title="OpenPGP key" back={back}>
        {error === undefined ? (
          <Loading what="Opening your keys" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  const found = data.find((one) => one.id === id);
  if (found === undefined)
    return (
      <Screen title="Not here" back={back}>
        <Text>This key is not in your vault.</Text>
      </Screen>
    );
  return <OwnKeyPage key={id} own={found} all={data} />;
}

const backupWork = ({ id, view }: OwnOpenPgpKey): BackupWork => ({
  make: async (password) => ({
    bytes: await keysDoor().openpgp.backup(id, password),
    name: `openpgp-key-${view.fingerprint.slice(-16)}-secret.asc`,
    type: 'application/pgp-keys',
  }),
  prove: (file, password) => keysDoor().openpgp.proveBackup(id, file, password, new Date()),
});

const carriedWords: Record<Carried, { label: string; detail: string }> = {
  field: {
    label: 'In the head of signed mail',
    detail: 'The Autocrypt field: many programs take the key from there by themselves',
  },
  file: { label: 'As a file with signed mail', detail: 'For correspondents whose program knows no Autocrypt' },
  both: { label: 'Both', detail: 'In the head and as a file' },
  nothing: { label: 'Not at all', detail: 'They find it in the office’s directory, or you give it to them' },
};

/** What is done to the key is said once the pages have it as it is now. */
function useKeyAttempt() {
  const { busy, said, say, attempt } = useAttempt();
  return {
    busy,
    said,
    say,
    attempt: (done: string | undefined, act: () => Promise<unknown>): Promise<void> =>
      attempt(async () => {
        await act();
        await openPgpChanged();
        if (done !== undefined) say({ tone: 'sea', text: done });
      }),
  };
}

/** Whether it may still be used, and for how long. */
function Standing({ view, old, now }: { view: OpenPgpView; old: boolean; now: Date }) {
  if (old)
    return (
      <Banner tone="amber">
        {view.revocation === undefined
          ? 'Kept for reading only: nothing is signed with it any more.'
          : `Revoked on ${dayInWords(view.revocation.at, now, zone)}. It is kept for reading, and nothing is signed with it.`}
      </Banner>
    );
  return view.expiresAt !== undefined && runsOutSoon({ notAfter: view.expiresAt }, now) ? (
    <Banner tone="amber">It runs out soon. Lengthen it below; others learn of it from the directory.</Banner>
  ) : null;
}

function OwnKeyPage({ own, all }: { own: OwnOpenPgpKey; all: readonly OwnOpenPgpKey[] }) {
  const now = useNow();
  const { data: verdicts } = useOpenPgpVerdicts([own]);
  const [revoking, setRevoking] = useState(false);
  const { busy, said, say, attempt } = useKeyAttempt();
  const old = isOldKey(own, now);
  const { view } = own;
  const address = view.addresses[0] ?? 'key';
  const parts = { own, now, busy, attempt };
  return (
    <Screen title={`OpenPGP key of ${view.name || address}`} back={back}>
      <Result said={said} />
      <Standing view={view} old={old} now={now} />
      {own.purpose === 'programs' ? <ForPrograms /> : null}
      <Panel>
        <Line last>
          <KeyFacts view={view} verdict={verdicts?.get(own.id)} now={now} />
        </Line>
      </Panel>
      {own.purpose === 'programs' ? null : (
        <Backup backedUpAt={own.backedUpAt} address={address} work={backupWork(own)} />
      )}
      <RevocationPaper own={own} />
      <GiveOut {...parts} />
      {old ? null : <Ends {...parts} />}
      {old || own.purpose !== 'mail' ? null : <Addresses {...parts} />}
      {old || own.purpose !== 'mail' ? null : <ChooseAmong {...parts} all={all} />}
      {view.revocation === undefined ? (
        <ToEnd own={own} attempt={attempt} old={old} onRevoke={() => setRevoking(true)} />
      ) : null}
      {revoking ? (
        <RevokeKey
          own={own}
          onClose={() => setRevoking(false)}
          onDone={(text) => {
            setRevoking(false);
            say({ tone: 'sea', text });
          }}
        />
      ) : null}
    </Screen>
  );
}

interface PartProps {
  own: OwnOpenPgpKey;
  now: Date;
  busy: boolean;
  attempt: (done: string | undefined, act: () => Promise<unknown>) => Promise<void>;
}

function ToEnd({
  own,
  old,
  attempt,
  onRevoke,
}: Pick<PartProps, 'own' | 'attempt'> & { old: boolean; onRevoke: () => void }) {
  return (
    <Section title="When it is to end">
      <Row>
        {own.purpose !== 'mail' ? null : (
          <Button
            label="Replace it"
            describe="Replace it: a new key, this one kept for reading"
            onPress={() => router.push(`/keys/openpgp/new?replaces=${own.id}` as never)}
          />
        )}
        {old || own.purpose === 'programs' ? null : (
          <Button
            label="Put aside"
            describe="Put aside: sign nothing more with it, keep it for reading"
            onPress={() =>
              void attempt('Put aside. It opens what is encrypted to it, and signs nothing.', () =>
                keysDoor().openpgp.note(own.id, { retiredAt: new Date().toISOString() }),
              )
            }
          />
        )}
        <Button kind="stop" label="Revoke" onPress={onRevoke} />
      </Row>
      <Text kind="small" tone="soft">
        If the device is lost or somebody else may have the key, revoke it at once.
      </Text>
    </Section>
  );
}

const publishAgain = async (published: boolean, { view }: OwnOpenPgpKey): Promise<void> => {
  if (published) await api(publishKey, { params: { fingerprint: view.fingerprint }, body: { key: view.bytes } });
};

const needsIt: Record<OwnOpenPgpKey['purpose'], string> = {
  mail: 'Whoever is to encrypt to you needs the public key.',
  certifying: 'Whoever is to trust the keys that this one vouches for needs the public key.',
  programs:
    'Whoever checks the signatures on what your mail programs send needs the public key; nothing can be encrypted to it.',
};

function GiveOut({ own, now, busy, attempt }: PartProps) {
  const { data: published } = usePublished();
  const { view } = own;
  const there = published?.get(view.fingerprint);
  const file = async (): Promise<void> =>
    saveFile(
      await keysDoor().openpgp.publicFile(view.bytes),
      `openpgp-key-${view.fingerprint.slice(-16)}.asc`,
      'application/pgp-keys',
    );
  return (
    <Section title="Give it to others">
      <Text kind="small" tone="soft">
        {needsIt[own.purpose]} In the office’s directory others’ programs find it by its address (Web Key Directory).
      </Text>
      {published === undefined ? null : there === undefined ? (
        <StateMark tone="over" word="not published" />
      ) : (
        <StateMark tone="done" word={`published ${dayInWords(there.publishedAt, now, zone)}`} />
      )}
      <Row>
        {published === undefined || there !== undefined ? null : (
          <Button
            label="Publish it"
            describe="Publish it in the office’s directory"
            busy={busy}
            onPress={() =>
              void attempt('Published. Other programs find it by your address from now on.', () =>
                publishAgain(true, own),
              )
            }
          />
        )}
        {there === undefined || view.revocation !== undefined ? null : (
          <Button
            kind="quiet"
            label="Take it out"
            describe="Take it out of the office’s directory"
            busy={busy}
            onPress={() =>
              void attempt('Taken out. Whoever has it keeps it; nobody new finds it.', () =>
                api(unpublishKey, { params: { fingerprint: view.fingerprint } }),
              )
            }
          />
        )}
        <Button label="Save as a file" describe="Save as a file: the public key" onPress={() => void file()} />
      </Row>
      {own.purpose !== 'mail' || own.retiredAt !== undefined ? null : (
        <Choice
          label="What goes with your mail"
          value={own.carried}
          onChange={(carried) => void attempt(undefined, () => keysDoor().openpgp.note(own.id, { carried }))}
          options={CARRIED.map((value) => ({ value, ...carriedWords[value] }))}
        />
      )}
    </Section>
  );
}

/** Its end moved, both ways; counted from today. */
function Ends({ own, busy, attempt }: PartProps) {
  const { data: published } = usePublished();
  const [open, setOpen] = useState(false);
  const [span, setSpan] = useState<Span>('two');
  const move = (): Promise<void> =>
    attempt('Its end date is changed. Whoever looks it up learns of it; others need the file again.', async () => {
      const now = new Date();
      const changed = await keysDoor().openpgp.setEnd(own.id, endAfter(span, now), now);
      await publishAgain(published?.has(own.view.fingerprint) === true, changed);
      setOpen(false);
    });
  return (
    <Section title="Until when">
      {open ? (
        <Stack>
          <Choice
            label="Valid from today for"
            value={span}
            onChange={setSpan}
            options={SPANS.map((value) => ({ value, ...spanWords[value] }))}
          />
          <Row>
            <Button kind="main" label="Change its end date" busy={busy} onPress={() => void move()} />
            <Button label="Leave it" describe="Leave its end as it is" onPress={() => setOpen(false)} />
          </Row>
        </Stack>
      ) : (
        <Row>
          <Button
            label="Lengthen or shorten"
            describe="Lengthen or shorten how long the key is valid"
            onPress={() => setOpen(true)}
          />
        </Row>
      )}
    </Section>
  );
}

function Addresses({ own, busy, attempt }: PartProps) {
  const { account } = useOpenSession();
  const { data: published } = usePublished();
  const { view } = own;
  const has = (address: string): boolean => view.addresses.some((one) => addressKey(one) === addressKey(address));
  const missing = ownAddresses(account).filter((address) => !has(address));
  if (missing.length === 0 && view.addresses.length < 2) return null;
  const changed = (done: string, act: () => Promise<OwnOpenPgpKey>): Promise<void> =>
    attempt(done, async () => publishAgain(published?.has(view.fingerprint) === true, await act()));
  return (
    <Section title="Addresses on it">
      <Panel>
        {[...view.addresses, ...missing].map((address, index, every) => (
          <Line key={address} last={index === every.length - 1}>
            <Row>
              <Text>{address}</Text>
              {has(address) ? null : (
                <Button
                  label="Add it"
                  describe={`Add it: ${address}`}
                  busy={busy}
                  onPress={() =>
                    void changed(`${address} stands on the key now.`, () =>
                      keysDoor().openpgp.addAddress(own.id, account.name, address, new Date()),
                    )
                  }
                />
              )}
              {has(address) && view.addresses.length > 1 ? (
                <Button
                  kind="quiet"
                  label="Retire it"
                  describe={`Retire it: ${address}`}
                  busy={busy}
                  onPress={() =>
                    void changed(`The key no longer stands for ${address}.`, () =>
                      keysDoor().openpgp.retireAddress(own.id, address, new Date()),
                    )
                  }
                />
              ) : null}
            </Row>
          </Line>
        ))}
      </Panel>
    </Section>
  );
}

/** Where several could: which one signs and is kept for copies of what leaves from an address. */
function ChooseAmong({ own, all, now, busy, attempt }: PartProps & { all: readonly OwnOpenPgpKey[] }) {
  const others = all.filter((one) => one.id !== own.id && one.purpose === 'mail' && !isOldKey(one, now));
  const shared = own.view.addresses.filter((address) =>
    others.some(({ view }) => view.addresses.some((one) => addressKey(one) === addressKey(address))),
  );
  if (shared.length === 0) return null;
  const take = (address: string): Promise<void> =>
    attempt(undefined, async () => {
      const key = addressKey(address);
      for (const { id, chosenFor } of others)
        if (chosenFor.includes(key))
          await keysDoor().openpgp.note(id, { chosenFor: chosenFor.filter((one) => one !== key) });
      await keysDoor().openpgp.note(own.id, { chosenFor: [...new Set([...own.chosenFor, key])] });
    });
  return (
    <Section title="Which one is used">
      <Text kind="small" tone="soft">
        You have several for the same address. The newest is used until you choose one.
      </Text>
      {shared.map((address) => (
        <Row key={address}>
          <Text kind="small">{address}</Text>
          {own.chosenFor.includes(addressKey(address)) ? (
            <StateMark tone="done" word="signs what you send" />
          ) : (
            <Button
              label="Sign with this one"
              describe={`Sign with this one, for ${address}`}
              busy={busy}
              onPress={() => void take(address)}
            />
          )}
        </Row>
      ))}
    </Section>
  );
}
