/** How a person chose to be written to, and a certificate or key of theirs that somebody has to compare first. */
import { fromBase64Url } from '@under-lock/core/bytes';
import { withOffered } from '@under-lock/core/office-book/choice';
import { type BookPerson, type Changing, type Unchanged } from '@under-lock/core/office-book/person';
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, Result, Row, Section, Stack, Text } from '@under-lock/ui';
import useSWR from 'swr';
import { useNow, zone } from '../clock';
import { choiceWords } from '../handling/choice-words';
import { checkWords } from '../handling/words';
import { firstLower } from '@under-lock/core/first-letter';
import { fingerprintInGroups } from '../keys/words';
import { useOpenSession } from '../session/session';
import { useAttempt } from '../shell/useAttempt';
import { keysDoor } from '../threads/keys/door';
import { keepInBook } from './useBook';

interface Props {
  id: string;
  person: BookPerson;
}

function useBookChange({ id, person }: Props) {
  const { account } = useOpenSession();
  const { busy, said, attempt } = useAttempt();
  const by: Changing['by'] = { id: account.id, name: account.name };
  return {
    busy,
    said: <Result said={said} />,
    by,
    change: (make: (before: BookPerson) => Unchanged) =>
      void attempt(() => keepInBook(person.address, (before) => make(before ?? person), { by, what: 'changed' }, id)),
  };
}

export function Chosen({ id, person }: Props) {
  const now = useNow();
  const { busy, said, change } = useBookChange({ id, person });
  const { chose, offered } = person;
  if (chose === undefined && offered === undefined) return null;
  return (
    <Section title="As they chose">
      <Stack>
        {chose === undefined ? null : (
          <>
            <Text>{`${choiceWords[chose.lock]}, on ${dayInWords(new Date(chose.at), now, zone)}.`}</Text>
            <Text kind="small" tone="soft">
              {`Chosen after a ${firstLower(checkWords[chose.check])}. A handling that asks for more, or keeps everything in the reading room, goes before it.`}
            </Text>
            <Row>
              <Button
                kind="quiet"
                label="Set it aside"
                describe={`Set aside how ${person.name || person.address} chose to be written to`}
                busy={busy}
                onPress={() => change(({ chose: _, ...rest }) => rest)}
              />
            </Row>
          </>
        )}
        {said}
        {offered === undefined ? null : <Offered id={id} person={person} offered={offered} />}
      </Stack>
    </Section>
  );
}

/** Of a certificate, read in the thread; an OpenPGP key brings its own. */
function useFingerprint({ choice }: NonNullable<BookPerson['offered']>): string | undefined {
  const { data } = useSWR(choice.way === 'certificate' ? ['offered', choice.certificate] : null, async () =>
    choice.way === 'certificate'
      ? (await keysDoor().certificates.view(fromBase64Url(choice.certificate))).fingerprint
      : undefined,
  );
  return choice.way === 'openpgp' ? choice.fingerprint : data;
}

/** They passed a check, and it is another than the office has: only a call can tell. */
function Offered({ id, person, offered }: Props & { offered: NonNullable<BookPerson['offered']> }) {
  const now = useNow();
  const { busy, said, by, change } = useBookChange({ id, person });
  const fingerprint = useFingerprint(offered);
  const what = offered.choice.way === 'certificate' ? 'certificate' : 'OpenPGP key';
  const name = person.name || person.address;
  return (
    <>
      <Banner tone="amber">
        {`${name} gave another ${what} than the office has, on ${dayInWords(new Date(offered.at), now, zone)} in the reading room. Call them under a number you know and compare this fingerprint before it is used.`}
      </Banner>
      <Text kind="small" selectable>
        {fingerprint === undefined ? 'Reading it …' : fingerprintInGroups(fingerprint)}
      </Text>
      <Row>
        <Button
          label="It is theirs: use it"
          describe={`The ${what} is ${name}’s: use it`}
          busy={busy}
          onPress={() => change((before) => withOffered(before, by.name, new Date()))}
        />
        <Button
          kind="quiet"
          label="Leave it"
          describe={`Leave the ${what} that ${name} gave`}
          busy={busy}
          onPress={() => change(({ offered: _, ...rest }) => rest)}
        />
      </Row>
      {said}
    </>
  );
}
