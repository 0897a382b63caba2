/** The desk of somebody who has sent nothing yet: three things to begin with, in place of three empty lists. */
import { Panel, Section, Text } from '@under-lock/ui';
import { isOld, useOwnKeys } from '../keys/useKeys';
import { useOpenSession } from '../session/session';
import { StepLine } from '../shell/StepLine';
import { WayLink } from '../shell/WayLink';

interface Step {
  title: string;
  why: string;
  done: boolean;
  href: string;
  act: string;
}

function Steps({ steps }: { steps: readonly Step[] }) {
  return (
    <Panel>
      {steps.map(({ title, why, done, href, act }, index) => (
        <StepLine key={title} {...{ title, done }} last={index === steps.length - 1}>
          <Text tone="soft">{why}</Text>
          {done ? null : <WayLink href={href} label={act} forward />}
        </StepLine>
      ))}
    </Panel>
  );
}

export default function FirstSteps({ now }: { now: Date }) {
  const { account } = useOpenSession();
  const { data: keys } = useOwnKeys();
  const steps: readonly Step[] = [
    {
      title: 'Send something under lock',
      why: 'To a colleague or to anybody with a mail address. Before it leaves, its page says who gets it how and until when.',
      done: false,
      href: '/write',
      act: 'Write',
    },
    {
      title: 'Get a certificate of your own',
      why: 'With it your mail is signed, and others can write to you under lock from their own mail program.',
      done: (keys ?? []).some((one) => !isOld(one, now)),
      href: '/keys',
      act: 'To your keys',
    },
    {
      title: 'Say which phone is yours',
      why: 'So that a passcode meant for a reader is never sent to you by mistake.',
      done: account.phone !== undefined,
      href: '/account',
      act: 'To your account',
    },
  ];
  return (
    <Section title="To begin with" aside={`${steps.filter(({ done }) => done).length} of ${steps.length} done`}>
      <Steps steps={steps} />
    </Section>
  );
}
