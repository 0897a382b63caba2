/** What the sender has asked to do with an access or several, each in a dialog of its own. */
import { type Grant } from '@under-lock/contract/outgoing';
import { type Office } from '@under-lock/contract/office';
import { DeliveryStatementDialog, EndedStatement } from '../statement/StatementDialog';
import {
  AddReaderDialog,
  ChangeChannelDialog,
  GiveAgainDialog,
  MoveClosingDialog,
  WithdrawDialog,
} from './MessageDialogs';
import { SeenAfterSending } from './SeenAfterSending';
import { subjectOf, type useSentMessage } from './useSent';

export type SentWithAll = NonNullable<ReturnType<typeof useSentMessage>['data']>;

export type Asking =
  | { what: 'move' | 'withdraw'; grants: Grant[] }
  | { what: 'channel' | 'again' | 'seen'; grant: Grant }
  | { what: 'add'; corrects: Grant | undefined }
  | { what: 'statement' | 'delivery' };

interface Props {
  asking: Asking;
  message: SentWithAll;
  office: Office;
  now: Date;
  onClose: () => void;
  /** It was done, in a sentence. */
  onDone: (sentence: string) => Promise<void>;
}

export function MessageAsked({ asking, ...props }: Props) {
  const { message } = props;
  switch (asking.what) {
    case 'move':
      return <MoveClosingDialog {...props} grants={asking.grants} />;
    case 'withdraw':
      return <WithdrawDialog {...props} grants={asking.grants} />;
    case 'channel':
      return <ChangeChannelDialog {...props} grant={asking.grant} />;
    case 'again':
      return <GiveAgainDialog {...props} grant={asking.grant} />;
    case 'add':
      return <AddReaderDialog {...props} corrects={asking.corrects} />;
    case 'seen':
      return <SeenAfterSending {...props} grant={asking.grant} />;
    case 'statement':
      return (
        <EndedStatement
          {...props}
          messageId={message.id}
          subject={subjectOf(message.opened)}
          ended={message.grants.filter(({ state }) => state !== 'held')}
        />
      );
    case 'delivery':
      return (
        <DeliveryStatementDialog
          {...props}
          messageId={message.id}
          subject={subjectOf(message.opened)}
          grants={message.grants}
          copies={message.copies}
        />
      );
  }
}
