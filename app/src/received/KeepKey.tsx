/**
 * Somebody's OpenPGP key, met in mail or in a file, for keeping with them: the one there already is said, a different
 * one is shown beside it and never swapped in silently.
 */
import { fromBase64Url, sameBytes } from '@under-lock/core/bytes';
import { type Correspondent } from '@under-lock/core/people/address';
import { Banner, Button, Result, Row, Stack, StateMark } from '@under-lock/ui';
import { useState } from 'react';
import { type OpenPgpView } from '../keys/openpgp/view';
import { type KeyOrigin } from '@under-lock/core/people/kept-person';
import { currentKey, withKey, withLearnt } from '../people/keys';
import { personAt } from '@under-lock/core/people/find';
import { rememberPerson, usePeople } from '../people/person';
import { problemWords } from '../problem-words';
import { keysDoor } from '../threads/keys/door';

interface Props {
  view: OpenPgpView;
  holder: Correspondent;
  from: KeyOrigin;
}

export function KeepKey({ view, holder: { name, address }, from }: Props) {
  const { data: people } = usePeople();
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  if (people === undefined) return null;
  const person = personAt(people, address)?.value;
  const kept = person === undefined ? undefined : currentKey(person);
  const same = kept?.fingerprint === view.fingerprint;
  if (same && sameBytes(fromBase64Url(kept.key), view.bytes))
    return <StateMark tone="done" word="the key you have for them" />;
  const keep = async (): Promise<void> => {
    setBusy(true);
    setFailed(undefined);
    try {
      const learnt = same ? await keysDoor().openpgp.merged(fromBase64Url(kept.key), view.bytes) : undefined;
      const keys =
        learnt === undefined
          ? withKey(person?.keys, view, from, new Date())
          : withLearnt(person?.keys, learnt, new Date());
      await rememberPerson(people, { ...person, name: person?.name ?? name, address, keys });
    } catch (error) {
      setFailed(problemWords(error));
    }
    setBusy(false);
  };
  const label = kept === undefined ? 'Keep the key' : same ? 'Take what is new' : 'Take it instead';
  return (
    <Stack>
      {kept === undefined || same ? null : (
        <Banner tone="amber">{`You have another key for ${person!.name || address}. Somebody who makes a new one says so; ask them, by phone, before you take it.`}</Banner>
      )}
      <Result said={failed} />
      <Row>
        <Button label={label} describe={`${label}, for ${address}`} busy={busy} onPress={() => void keep()} />
        {same ? <StateMark tone="done" word="the key you have for them, with something new" /> : null}
      </Row>
    </Stack>
  );
}
