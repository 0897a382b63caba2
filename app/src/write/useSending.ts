import { zone } from '../clock';
import { useRef, useState } from 'react';
import { mutate } from 'swr';
import { isProblem } from '@under-lock/contract/problem';
import { POLICY } from '../rules/usePolicy';
import { keepKnownKeys } from '../people/known-keys';
import { personAt } from '@under-lock/core/people/find';
import { rememberPerson } from '../people/person';
import { type PlanContext, type WritingContext, type Planned } from './usePlan';
import { problemWords } from '../problem-words';
import { isOwnAddress } from '@under-lock/core/people/own-addresses';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { unsettled } from '@under-lock/core/outgoing/missing-words';
import { discardFiles, EarlierVersionSentError, sendDraft, type SendStep } from '../sending/send';
import { type DraftDesk } from './useDraft';
import { refreshSent } from '../sent/useSent';
import { fromHere } from '../shell/from-here';

export interface Failed {
  sentence: string;
  /** What had gone out already. */ messageId?: string;
}

interface Given {
  desk: DraftDesk;
  draft: Draft;
  context: { [Key in keyof WritingContext]: WritingContext[Key] | undefined };
  /** The plan of this very draft, made when it is asked for. */
  planNow: () => Planned | undefined;
}

function failureOf(error: unknown): Failed {
  if (error instanceof Error && error.name === 'AbortError')
    return { sentence: 'Stopped. Nothing was sent; your draft is kept.' };
  if (error instanceof EarlierVersionSentError)
    return {
      sentence:
        'An earlier version of this message had gone out before the connection was lost. Look at it before you send this one too.',
      messageId: error.messageId,
    };
  const kept = isProblem(error, 'unreachable', 'server-error', 'storage-full')
    ? ' Not sent yet: your draft and what was uploaded are kept; sending again goes on where it stopped.'
    : ' Not sent: your draft is kept.';
  return { sentence: `${problemWords(error)}${kept}` };
}

/**
 * Whoever was written to is known from now on, where the office does not know them already; and the lock chosen for them
 * is theirs the next time, too.
 */
async function rememberRecipients(
  { plan }: Planned,
  draft: Draft,
  { people, ownPeople }: Pick<WritingContext, 'people' | 'ownPeople'>,
): Promise<void> {
  for (const { recipient } of plan.lines) {
    if (recipient.colleague === undefined && personAt(people, recipient.address) === undefined)
      await rememberPerson(ownPeople, { name: recipient.name, address: recipient.address });
  }
  for (const { address, lock } of draft.recipients) {
    const person = lock === undefined ? undefined : personAt(ownPeople, address)?.value;
    if (person !== undefined && person.lock !== lock) await rememberPerson(ownPeople, { ...person, lock });
  }
}

const writtenTo = ({ plan }: Planned, colleagues: PlanContext['colleagues']) =>
  colleagues.filter((one) => plan.lines.some(({ recipient }) => isOwnAddress(one, recipient.address)));

/** It has gone, or will: what is left to be done here. @returns where to go on */
async function tidied(
  { desk, draft, context }: Omit<Given, 'planNow'>,
  planned: Planned,
  { messageId, leavesAt }: Awaited<ReturnType<typeof sendDraft>>,
): Promise<string> {
  // What can't be noted now, because a person was changed a moment ago, is no reason to say otherwise.
  await rememberRecipients(planned, draft, { people: context.people!, ownPeople: context.ownPeople! }).catch(
    () => undefined,
  );
  await keepKnownKeys(writtenTo(planned, context.colleagues!)).catch(() => undefined);
  if (leavesAt === undefined || leavesAt > new Date()) {
    // Kept until it has left: then it can be taken back as it was.
    const waiting = { messageId, ...(leavesAt === undefined ? {} : { leavesAt: leavesAt.toISOString() }) };
    desk.change(({ sentBack: _, ...before }) => ({ ...before, waiting }));
    await desk.keepNow();
  } else {
    await discardFiles(draft);
    await desk.drop();
  }
  void refreshSent();
  void mutate('desk');
  return leavesAt === undefined ? `/mail/waiting/${messageId}` : `/mail/${messageId}?sent=1`;
}

export function useSending({ desk, draft, context, planNow }: Given) {
  const [sending, setSending] = useState<SendStep | undefined>();
  const [failed, setFailed] = useState<Failed | undefined>();
  const control = useRef<AbortController | undefined>(undefined);

  const send = async (): Promise<void> => {
    const planned = planNow();
    const now = new Date();
    if (sending !== undefined || planned === undefined || unsettled(planned.plan, now, zone).length > 0) return;
    const { office, account, people, colleagues, registered, certificates, keys, passwords, fileRules, rules } =
      context as PlanContext;
    const goOn = fromHere();
    control.current = new AbortController();
    setFailed(undefined);
    setSending({ step: 'sealing' });
    try {
      await desk.keepNow();
      const went = await sendDraft({
        draft,
        draftId: desk.id,
        planned,
        colleagues,
        registered,
        certificates,
        keys,
        passwords,
        fileRules,
        people,
        rules,
        office,
        account,
        now,
        progress: setSending,
        signal: control.current.signal,
        async keepAttempt(attempt) {
          desk.change((before) => ({ ...before, attempt }));
          await desk.keepNow();
        },
      });
      goOn(await tidied({ desk, draft, context }, planned, went));
    } catch (error) {
      setSending(undefined);
      // Planned anew by the rules as they are now.
      if (isProblem(error, 'rules-changed', 'breaks-rule')) void mutate(POLICY);
      setFailed(failureOf(error));
    }
  };

  return { sending, failed, send, stop: (): void => control.current?.abort() };
}
