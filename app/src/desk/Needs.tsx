/** What needs the worker, each with the act that settles it. */
import { dayInWords, distanceInWords, momentInWords } from '@under-lock/core/when';
import { Empty, Line, Panel, Result, Section, Text } from '@under-lock/ui';
import { zone } from '../clock';
import { listed, quoted } from '../handling/words';
import { useDoors } from '../office-book/useDoors';
import { useOffered } from '../office-book/useOffered';
import { usePeopleRunningOut } from '../people/running-out';
import { noticeWords, who } from '../handling/grant-words';
import { letThemTryAgain, tellAgainNow } from '../sent/message-actions';
import { useSaying } from '../sent/useSaying';
import { type Releases } from '../release/useReleases';
import { subjectOf } from '../sent/useSent';
import { NeedLine } from './NeedLine';
import { type Need, type OpenDesk } from './useDesk';

/** Where another notice may help. */
const tellable: ReadonlySet<Need['kind']> = new Set(['notice-failed', 'not-opened', 'closing-unopened']);

interface Said {
  tone: 'wants' | 'stopped';
  title: string;
  detail?: string;
}

function needWords({ kind, grant, sentAt }: Need, now: Date): Said {
  const name = who(grant);
  const closes = `closes ${momentInWords(grant.closesAt, now, zone)}`;
  switch (kind) {
    case 'notice-failed':
      return grant.notice.state === 'junk'
        ? { tone: 'wants', title: 'Notice in the junk folder', detail: `${noticeWords(grant, now)} · ${closes}` }
        : { tone: 'stopped', title: 'Notice came back', detail: `${noticeWords(grant, now)} · ${closes}` };
    case 'give-again':
      return {
        tone: 'wants',
        title: 'Asks for it again',
        detail: `${name} has forgotten their password and can’t open it any more. Give access again on its page · ${closes}`,
      };
    case 'other-way':
      return {
        tone: 'wants',
        title: 'Asks for another way',
        detail: `${name} can’t be reached for the passcode: “${grant.otherWay?.wish ?? ''}” · ${closes}`,
      };
    case 'passcode-paused':
      return {
        tone: 'stopped',
        title: `${name} can’t get in`,
        detail: grant.stopped
          ? 'No tries left; only you can let them try again'
          : `Too many wrong passcodes; they can try again ${momentInWords(grant.pausedUntil ?? now, now, zone)}`,
      };
    case 'closing-unopened':
      return { tone: 'wants', title: `Closes unread ${distanceInWords(grant.closesAt, now, zone)}` };
    case 'not-opened':
      return { tone: 'wants', title: `Not opened, sent ${distanceInWords(sentAt, now, zone)}`, detail: closes };
    case 'not-for-me':
      return {
        tone: 'stopped',
        title: 'Wrong reader',
        detail: `Somebody with ${name}’s link said it is not for them. Check the phone or address.`,
      };
  }
}

/** Somebody’s certificate or key that runs out soon. */
function runningOutWords(theirs: ReturnType<typeof usePeopleRunningOut>): { title: string; detail: string } {
  const first = theirs[0]!;
  const what = first.what === 'key' ? 'OpenPGP key' : 'certificate';
  const NAMED = 4;
  const names = theirs.slice(0, NAMED).map(({ who: name }) => name);
  return theirs.length === 1
    ? {
        title: `The ${what} of ${first.who} runs out`,
        detail: 'After that they get no copies; the reading room stays. Ask for the new one.',
      }
    : {
        title: `Certificates or keys of ${theirs.length} people run out`,
        detail: `After that ${listed(names, 'and')}${theirs.length > NAMED ? ' and others' : ''} get no copies; the reading room stays. Ask for the new ones.`,
      };
}

/** A certificate of one's own, or one that is lent to the door for mail programs: it runs out, or has. */
function ownRunningOut(forPrograms: boolean, isOver: boolean, when: string): Said & { href: string } {
  const whose = forPrograms ? 'The certificate of your mail programs' : 'Your certificate';
  const title = `${whose} ${isOver ? 'ran' : 'runs'} out ${when}`;
  const tone = isOver ? 'stopped' : 'wants';
  if (forPrograms)
    return {
      tone,
      title,
      detail: isOver
        ? 'Nothing they send under S/MIME is signed. Take it back under Mail programs, and make a new one.'
        : 'After that nothing they send under S/MIME is signed. Take it back under Mail programs before, and make a new one.',
      href: '/account/programs',
    };
  return {
    tone,
    title,
    detail: isOver
      ? 'You can’t sign with it, and nobody should encrypt to it. Get a new one.'
      : 'After that you can’t sign with it, and nobody should encrypt to it. Renew it before.',
    href: '/keys',
  };
}

/** What waits for one's own word, and what was sent back. */
function ReleaseNeeds({ asked, own, now }: Releases & { now: Date }) {
  return (
    <>
      {asked.map(({ id, from, rules, askedAt }) => (
        <NeedLine
          key={id}
          tone="wants"
          title={`${from.name} asks you to release a message`}
          about={`since ${momentInWords(askedAt, now, zone)}`}
          detail={`It waits because of ${quoted(rules)}.`}
          href={`/mail/waiting/${id}`}
          last={false}
        />
      ))}
      {own.map(({ id, opened, by, sentence }) => (
        <NeedLine
          key={id}
          tone="stopped"
          title={by === undefined ? 'Nobody released it in two weeks' : `${by.name} sent it back`}
          about={subjectOf(opened)}
          detail={sentence === undefined ? 'It has not left.' : `It has not left: “${sentence}”`}
          href={`/mail/waiting/${id}`}
          last={false}
        />
      ))}
    </>
  );
}

interface OtherProps {
  desk: OpenDesk;
  theirs: ReturnType<typeof usePeopleRunningOut>;
  now: Date;
}

/** What needs the worker and is no access: certificates that run out, answers, copies that did not arrive. */
const OtherNeeds = ({ desk, theirs, now }: OtherProps) => (
  <>
    {desk.runningOut.map(({ fingerprint, notAfter, forPrograms }) => (
      <NeedLine
        key={fingerprint}
        {...ownRunningOut(forPrograms, notAfter <= now, distanceInWords(notAfter, now, zone))}
        about={`Valid until ${dayInWords(notAfter, now, zone)}`}
        last={false}
      />
    ))}
    {theirs.length === 0 ? null : (
      <NeedLine
        tone="wants"
        {...runningOutWords(theirs)}
        about={`The first on ${dayInWords(theirs[0]!.at, now, zone)}, ${distanceInWords(theirs[0]!.at, now, zone)}`}
        href="/people"
        last={false}
      />
    )}
    {desk.answers.map(({ id, summary, arrivedAt, requestId }) => {
      const from = summary === undefined ? 'Somebody' : summary.from.name || summary.from.address;
      return (
        <NeedLine
          key={id}
          tone="wants"
          title={
            requestId === undefined
              ? `${from} has answered, and a key or a certificate came along`
              : `${from} has answered your request for a signed message`
          }
          about={`the answer of ${from}`}
          detail={`Came ${momentInWords(arrivedAt, now, zone)}. Look at who signed it and at what came along, and keep it; then they can get copies.`}
          href={`/mail/in/${id}`}
          last={false}
        />
      );
    })}
    {desk.copiesFailed.map(({ messageId, copy }) => (
      <NeedLine
        key={copy.id}
        tone="stopped"
        title={copy.state === 'refused' ? 'Copy refused' : 'Copy came back'}
        about={`${desk.subject(messageId)}, ${who(copy)}`}
        detail={`Their mail host did not take it${copy.at === undefined ? '' : `, ${momentInWords(copy.at, now, zone)}`}${copy.answer === undefined || copy.answer === '' ? '' : `: ${copy.answer}`}`}
        href={`/mail/${messageId}`}
        last={false}
      />
    ))}
  </>
);

interface NeedsProps {
  desk: OpenDesk;
  /** To be released, or to be written anew. */
  waiting: Releases;
  now: Date;
  onChange: () => Promise<unknown>;
}

export function Needs({ desk, waiting, now, onChange }: NeedsProps) {
  const theirs = usePeopleRunningOut(now);
  const ofBook = [useDoors(), useOffered()].flatMap((wanted) => wanted ?? []);
  const { said, act } = useSaying(onChange);
  const actOf = (need: Need) => {
    const about = `${who(need.grant)}, ${desk.subject(need.messageId)}`;
    const message = { id: need.messageId, opened: desk.summary(need.messageId) };
    if (need.kind === 'passcode-paused' && need.grant.stopped)
      return {
        label: 'Let them try now',
        describe: `Let them try now: ${about}`,
        does: () => void act(() => letThemTryAgain(message, need.grant)),
      };
    const came = need.grant.notice.state === 'refused' || need.grant.notice.state === 'bounced';
    if (tellable.has(need.kind) && !came && message.opened?.links[need.grant.id] !== undefined)
      return {
        label: 'Tell again',
        describe: `Tell again: ${about}`,
        does: () => void act(() => tellAgainNow(message, need.grant)),
      };
    return undefined;
  };
  const released = waiting.asked.length + waiting.own.length;
  const others = Math.min(1, theirs.length) + ofBook.length;
  const total = desk.needsTotal + others + released;
  const shown =
    released + desk.needs.length + desk.answers.length + desk.copiesFailed.length + desk.runningOut.length + others;
  return (
    <Section title="Needs you" aside={String(total)}>
      <Result said={said} />
      <Panel>
        {total === 0 ? (
          <Empty title="Nothing needs you">
            Everybody who should read something has been told, and nothing is about to close unread.
          </Empty>
        ) : null}
        <ReleaseNeeds {...waiting} now={now} />
        {ofBook.map((wanted) => (
          <NeedLine key={wanted.title} tone="wants" {...wanted} last={false} />
        ))}
        <OtherNeeds desk={desk} theirs={theirs} now={now} />
        {desk.needs.map((need, index) => (
          <NeedLine
            key={need.grant.id}
            {...needWords(need, now)}
            about={`${desk.subject(need.messageId)}, ${who(need.grant)}`}
            href={`/mail/${need.messageId}`}
            act={actOf(need)}
            last={index === desk.needs.length - 1 && total === shown}
          />
        ))}
        {total > shown ? (
          <Line last>
            <Text kind="small" tone="soft">{`and ${total - shown} more, in Mail`}</Text>
          </Line>
        ) : null}
      </Panel>
    </Section>
  );
}
