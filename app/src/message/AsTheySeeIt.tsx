/** The message as its readers will find it, before it goes: the reading room's own components. */
import { type Account } from '@under-lock/contract/account';
import { type Office } from '@under-lock/contract/office';
import { type MessageContent } from '@under-lock/core/message/content';
import { type DeliveryPlan } from '@under-lock/core/plan/plan';
import { Banner, Button, Dialog, Loading } from '@under-lock/ui';
import { useEffect, useState } from 'react';
import { problemWords } from '../problem-words';
import { door } from '../worker/door';
import { type Draft } from './draft';
import { MessageViewLater } from './MessageViewLater';

interface Props { draft: Draft; plan: DeliveryPlan; account: Account; office: Office; closesAt: Date; now: Date; onClose: () => void }

export function AsTheySeeIt({ draft, plan, account, closesAt, now, onClose }: Props) {
  const [content, setContent] = useState<MessageContent | undefined>();
  const [error, setError] = useState<string | undefined>();
  useEffect(() => {
    const people = (role: 'to' | 'cc') => plan.lines.filter(({ recipient }) => recipient.role === role).map(({ recipient: { name, address } }) => ({ name, address }));
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
    <Dialog title="As they see it, after the passcode" open onClose={onClose} actions={<Button kind="main" label="Back to writing" onPress={onClose} />}>
      {error !== undefined ? <Banner tone="brick">{error}</Banner> : content === undefined ? <Loading what="Putting it together" /> : (
        <MessageViewLater content={content} handling={{ closesAt, check: draft.check, rights: draft.rights }} now={now} pdfBase="/pdf" headingLevel={2} />
      )}
    </Dialog>
  );
}
