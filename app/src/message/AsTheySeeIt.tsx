/** What each recipient will get, before it goes: the notice, and the message in the reading room's own components. */
import { type Account } from '@under-lock/contract/account';
import { type Office } from '@under-lock/contract/office';
import { type Handling } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import { noticeText } from '@under-lock/core/notice/notice';
import { type DeliveryPlan, type PlanLine } from '@under-lock/core/plan/plan';
import { Banner, Button, Choice, Dialog, Loading, Section, Stack, Text } from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { useEffect, useState } from 'react';
import { problemWords } from '../problem-words';
import { door } from '../worker/door';
import { type Draft } from './draft';
import { MessageViewLater } from './MessageViewLater';

interface Props { draft: Draft; plan: DeliveryPlan; account: Account; office: Office; handling: Handling; now: Date; onClose: () => void }

function NoticeAsTheySeeIt({ line: { recipient, chosen }, account, office, handling }: { line: PlanLine } & Pick<Props, 'account' | 'office' | 'handling'>) {
  const { check } = chosen;
  if (check === undefined || check.kind === 'account') return <Text>A colleague gets no notice: it lies in their Received at once.</Text>;
  const { subject, html } = noticeText({
    messageId: '', date: new Date(), officeName: office.name, sender: { name: account.name, address: account.address }, recipient, closesAt: handling.closesAt, zone: office.calendar.zone,
    check: { ...check, kind: check.kind }, link: `${office.roomOrigin}/room/`, language: recipient.language ?? 'en',
  });
  return (
    <Stack>
      <Text kind="strong">{subject}</Text>
      <HtmlFrame html={html} title={subject} />
    </Stack>
  );
}

export function AsTheySeeIt({ draft, plan, account, office, handling, now, onClose }: Props) {
  const [content, setContent] = useState<MessageContent | undefined>();
  const [error, setError] = useState<string | undefined>();
  const [address, setAddress] = useState(plan.lines[0]?.recipient.address ?? '');
  const line = plan.lines.find(({ recipient }) => recipient.address === address);
  useEffect(() => {
    const people = (role: 'to' | 'cc') => plan.lines.filter(({ recipient }) => recipient.role === role).map(({ recipient: { name, address: at } }) => ({ name, address: at }));
    door()
      .message.preview({
        messageId: '', from: { name: account.name, address: account.address }, to: people('to'), cc: people('cc'), subject: draft.subject || '(no subject yet)', date: now, reference: draft.reference,
        text: draft.text, html: draft.html, files: draft.files,
      })
      .then(setContent, (problem: unknown) => setError(problemWords(problem)));
    // The draft as it was when this was opened: it can't be edited behind the dialog.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <Dialog title="As they see it" open onClose={onClose} actions={<Button kind="main" label="Back to writing" onPress={onClose} />}>
      {plan.lines.length < 2 ? null : <Choice label="For" value={address} onChange={setAddress} options={plan.lines.map(({ recipient }) => ({ value: recipient.address, label: recipient.name || recipient.address }))} />}
      {line === undefined ? null : <Section title="First, the notice"><NoticeAsTheySeeIt line={line} account={account} office={office} handling={handling} /></Section>}
      <Section title="Then, once they have proved who they are">
        {error !== undefined ? <Banner tone="brick">{error}</Banner> : content === undefined ? <Loading what="Putting it together" /> : (
          <MessageViewLater content={content} handling={handling} reader={line?.recipient ?? account} officeName={office.name} now={now} pdfBase="/pdf" headingLevel={2} onUse={async () => undefined} />
        )}
      </Section>
    </Dialog>
  );
}
