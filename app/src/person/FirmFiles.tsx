/** What mail to a firm may carry and how its locked files are made: shown to everybody, changed by administrators. */
import { getFileRules, putFileRules } from '@under-lock/contract/file-lock';
import { exceptionFor, type FileException, isSaid, withException } from '@under-lock/core/locks/file/rules';
import { isAtDomain } from '@under-lock/core/people/address';
import { sizeInWords } from '@under-lock/core/when';
import { Button, Line, Panel, Result, Row, Section, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { ExceptionFields } from '../office/ExceptionFields';
import { useFileRules } from '../passwords/useFileRules';
import { cipherWords, containerWords } from '../passwords/words';
import { useOpenSession } from '../session/session';
import { useAttempt } from '../shell/useAttempt';
import { WayLink } from '../shell/WayLink';

const exceptionWords = ({ container, cipher, extension, largest }: FileException): string =>
  [
    ...(largest === undefined ? [] : [`files of ${sizeInWords(largest)} at most`]),
    ...(container === undefined ? [] : [`locked files as ${containerWords[container]}`]),
    ...(cipher === undefined ? [] : [`ZIP under ${cipherWords[cipher]}`]),
    ...(extension === undefined ? [] : [`locked files ending in .${extension}`]),
  ].join(', ');

export function FirmFiles({ domain }: { domain: string }) {
  const { account } = useOpenSession();
  const { data } = useFileRules();
  const [changing, setChanging] = useState(false);
  const { said, say, busy, attempt } = useAttempt();
  const there = data?.exceptions.filter(({ whom }) => isAtDomain(whom, domain)) ?? [];
  const mayChange = account.role === 'administrator' && data !== undefined;
  return (
    <Section title="Mail to them">
      {there.length === 0 ? (
        <Text kind="small" tone="soft">
          As to everybody: the office’s own limits, and locked files the usual way.
        </Text>
      ) : (
        there.map((one) => <Text key={one.whom} kind="small">{`${one.whom}: ${exceptionWords(one)}.`}</Text>)
      )}
      <Result said={said} />
      {mayChange && !changing ? (
        <Row>
          <Button label="Change for everybody there" onPress={() => setChanging(true)} />
        </Row>
      ) : null}
      {mayChange && changing ? (
        <FirmException
          exception={{ ...exceptionFor(data, domain), whom: domain }}
          legacyAllowed={data.legacyAllowed}
          busy={busy}
          onLeave={() => setChanging(false)}
          onKeep={(exception) =>
            void attempt(async () => {
              // As they are now: somebody else may have changed another part of them.
              await api(putFileRules, { body: withException(await api(getFileRules), exception) });
              await mutate('file-rules');
              setChanging(false);
              say({ tone: 'sea', text: 'Kept. It holds for every mail to them from now on.' });
            })
          }
        />
      ) : null}
    </Section>
  );
}

function FirmException({
  exception: kept,
  legacyAllowed,
  busy,
  onKeep,
  onLeave,
}: {
  exception: FileException;
  legacyAllowed: boolean;
  busy: boolean;
  onKeep: (exception: FileException) => void;
  onLeave: () => void;
}) {
  const [exception, setException] = useState(kept);
  return (
    <Panel>
      <Line last>
        <Stack>
          <ExceptionFields
            exception={exception}
            about={kept.whom}
            legacyAllowed={legacyAllowed}
            onChange={setException}
          />
          <WayLink href="/office/locked-files" label="One address there, under Locked files" forward />
          <Row>
            <Button
              kind="main"
              label="Keep for the whole office"
              describe={`Keep for the whole office: mail to ${kept.whom}`}
              busy={busy}
              onPress={() => onKeep(exception)}
            />
            {isSaid(kept) ? (
              <Button kind="stop" label="As to everybody" busy={busy} onPress={() => onKeep({ whom: kept.whom })} />
            ) : null}
            <Button kind="quiet" label="Leave it" onPress={onLeave} />
          </Row>
        </Stack>
      </Line>
    </Panel>
  );
}
