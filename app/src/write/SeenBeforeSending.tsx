/** As they see it, before anything leaves: from the draft and its plan. */
import { type Account } from '@under-lock/contract/account';
import { type Office } from '@under-lock/contract/office';
import { type Handling } from '@under-lock/core/handling/handling';
import { isRead } from '@under-lock/core/locks/index';
import { noticeLink } from '@under-lock/core/locks/room/grant';
import { type MessageContent } from '@under-lock/core/message/content';
import { type Correspondent } from '@under-lock/core/people/address';
import { type DeliveryPlan, type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { useEffect, useState } from 'react';
import { problemWords } from '../problem-words';
import { door } from '../threads/main/door';
import { AsTheySeeIt, type SeenBy } from '../sent/AsTheySeeIt';
import { type Draft } from '@under-lock/core/outgoing/draft';

interface Props {
  draft: Draft;
  plan: DeliveryPlan;
  account: Account;
  office: Office;
  handling: Handling;
  /** Readers are asked to confirm having read it. */
  confirms: boolean;
  now: Date;
  onClose: () => void;
}

/** Where the access's number will stand. */
const SOME_GRANT = '00000000-0000-4000-8000-000000000000';
const NO_SHARE_YET = new Uint8Array(32);

const senderOf = ({ draft, account }: Pick<Props, 'draft' | 'account'>): Correspondent => ({
  name: account.name,
  address: draft.from ?? account.address,
});

function seenBy(
  { recipient, chosen: { check, lock } }: PlanLine,
  { draft, account, office, handling, now }: Pick<Props, 'draft' | 'account' | 'office' | 'handling' | 'now'>,
): SeenBy {
  const { name, address, language = 'en', question } = recipient;
  const common = { recipient: { name, address }, language, handling };
  if (check === undefined || check.kind === 'account') return { ...common, outside: undefined };
  const { kind, hint } = check;
  const { closesAt } = handling;
  const { zone } = office.calendar;
  const sender = senderOf({ draft, account });
  const carried = lock === 'carried';
  return {
    ...common,
    outside: {
      question,
      notice: {
        messageId: '',
        date: now,
        officeName: office.name,
        sender,
        recipient: common.recipient,
        closesAt,
        zone,
        check: { kind, hint, question: check.question },
        link: noticeLink(office.roomOrigin, SOME_GRANT, kind === 'password' ? undefined : NO_SHARE_YET, carried),
        language,
        look: office.look,
        ...(carried ? { carried: {} } : {}),
      },
      room: {
        state: 'held',
        officeName: office.name,
        colour: office.look.colour,
        senderName: sender.name,
        senderAddress: sender.address,
        zone,
        closesAt,
        identified: false,
        carried,
        check: { kind, hint, ...(check.question ? { question: NO_SHARE_YET } : {}) },
      },
    },
  };
}

export function SeenBeforeSending({ draft, plan, account, office, handling, confirms, now, onClose }: Props) {
  const [content, setContent] = useState<MessageContent | undefined>();
  const [error, setError] = useState<string | undefined>();
  useEffect(() => {
    const people = (role: 'to' | 'cc') =>
      plan.lines
        .filter(({ recipient }) => recipient.role === role)
        .map(({ recipient: { name, address } }) => ({ name, address }));
    door()
      .message.preview({
        messageId: '',
        from: senderOf({ draft, account }),
        to: people('to'),
        cc: people('cc'),
        subject: draft.subject || '(no subject yet)',
        date: now,
        reference: draft.reference,
        text: draft.text,
        html: draft.html,
        files: draft.files,
      })
      .then(setContent, (problem: unknown) => setError(problemWords(problem)));
    // The draft as it was when this was opened: it can't be edited behind the dialog.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <AsTheySeeIt
      seen={plan.lines
        .filter(({ chosen }) => isRead(chosen.lock))
        .map((line) => seenBy(line, { draft, account, office, handling, now }))}
      content={content}
      confirms={confirms}
      error={error}
      office={office}
      now={now}
      closeLabel="Back to writing"
      onClose={onClose}
    />
  );
}
