/** What a new office sets up, in the order in which it is needed, each with its state and its act. */
import { putPreset, setDefaultPreset } from '@under-lock/contract/handling';
import { type Setup, tryMail } from '@under-lock/contract/office';
import { STARTERS } from '@under-lock/core/handling/starters';
import { momentInWords } from '@under-lock/core/when';
import { Banner, Button, Check, Loading, Panel, Result, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { presetSentence } from '../handling/preset-words';
import { useAttempt } from '../shell/useAttempt';
import { problemWords } from '../problem-words';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { SetupRecords } from './SetupRecords';
import { Step } from './SetupStep';
import { doneOf, isDone, STEPS, useSetup } from './useSetup';

const back = <BackToList href="/office" label="Office" />;

export function SetupScreen() {
  const { data: setup, error } = useSetup();
  return (
    <Screen
      title="Setting up"
      back={back}
      {...(setup === undefined ? {} : { aside: `${doneOf(setup)} of ${STEPS.length} done` })}
    >
      {error === undefined ? null : <Banner tone="brick">{problemWords(error)}</Banner>}
      {setup === undefined ? (
        error === undefined ? (
          <Loading what="Looking what is set up" />
        ) : null
      ) : (
        <Panel>
          <Mail setup={setup} />
          <SetupRecords setup={setup} />
          <Presets setup={setup} />
          <Step setup={setup} step="authorities" title="Say whose certificates count">
            <Text tone="soft">
              The authorities that sign the certificates of those you write to, and your own. Without one, a certificate
              counts only once somebody has compared it by hand.
            </Text>
            <WayLink href="/office/trust" label="Certificate authorities" forward />
          </Step>
          <Step setup={setup} step="colleagues" title="Invite your colleagues" last>
            <Text tone="soft">Each chooses a password of their own; nobody else can ever open what is theirs.</Text>
            <WayLink href="/office/colleagues" label="Colleagues" forward />
          </Step>
        </Panel>
      )}
    </Screen>
  );
}

const answerWords = ({ outcome, answer }: { outcome: 'accepted' | 'refused' | 'later'; answer: string }): string =>
  outcome === 'accepted'
    ? 'Your mail host took it. Look whether it has come, and whether it lies in the junk folder.'
    : outcome === 'refused'
      ? `Your mail host refused it: “${answer}”. Whoever runs it must allow this server to send.`
      : `Your mail host could not be reached or put it off: “${answer}”. Check its address in the server’s settings.`;

function Mail({ setup }: { setup: Setup }) {
  const now = useNow();
  const { busy, said, attempt } = useAttempt();
  const { mailTried } = setup;
  const send = (): Promise<void> =>
    attempt(async () => {
      await api(tryMail);
      await mutate('setup');
    });
  return (
    <Step setup={setup} step="mail" title="Try whether mail leaves">
      <Text tone="soft">Notices leave through your own mail host. A mail to yourself shows whether it takes them.</Text>
      <Text kind="small" tone="soft">
        {setup.tlsRequired
          ? 'To that host they go under TLS, and its certificate is checked; where either is wrong, they wait. How it hands them on is up to it: Under Lock looks for neither MTA-STS nor DANE.'
          : 'To that host TLS is used where it offers it, and not asked for. How it hands them on is up to it: Under Lock looks for neither MTA-STS nor DANE.'}
      </Text>
      {mailTried === undefined ? null : (
        <Banner tone={mailTried.outcome === 'accepted' ? 'sea' : 'brick'}>
          {`${momentInWords(mailTried.at, now, zone)}: ${answerWords(mailTried)}`}
        </Banner>
      )}
      <Result said={said} />
      <Row>
        <Button label="Send me a test mail" busy={busy} onPress={() => void send()} />
      </Row>
    </Step>
  );
}

function Presets({ setup }: { setup: Setup }) {
  const [taken, setTaken] = useState<readonly string[]>(STARTERS.map(({ name }) => name));
  const { busy, said, attempt } = useAttempt();
  const take = (): Promise<void> =>
    attempt(async () => {
      const chosen = STARTERS.filter(({ name }) => taken.includes(name));
      for (const [index, starter] of chosen.entries()) {
        const id = crypto.randomUUID();
        await api(putPreset, { params: { id }, body: { ...starter, active: true } });
        if (index === 0) await api(setDefaultPreset, { body: { id } });
      }
      await Promise.all([mutate('setup'), mutate('presets')]);
    });
  return (
    <Step setup={setup} step="presets" title="Say how things are handled">
      <Text tone="soft">
        A preset says with one choice until when, by whom and how a message can be read. Take these to begin with; each
        can be changed.
      </Text>
      {isDone.presets(setup) ? (
        <WayLink href="/office" label="Handling presets" forward />
      ) : (
        <>
          {STARTERS.map(({ name, sentence, terms }) => (
            <Check
              key={name}
              label={name}
              detail={`${sentence} ${presetSentence(terms)}`}
              value={taken.includes(name)}
              onChange={(on) => setTaken(on ? [...taken, name] : taken.filter((one) => one !== name))}
            />
          ))}
          <Result said={said} />
          <Row>
            <Button
              label={taken.length === STARTERS.length ? 'Take these four' : `Take ${taken.length}`}
              disabled={taken.length === 0}
              busy={busy}
              onPress={() => void take()}
            />
          </Row>
        </>
      )}
    </Step>
  );
}
