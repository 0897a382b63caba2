/**
 * The notices of a message as they left, rebuilt from what is known; each with the hash that was recorded when it did.
 */
import { defined } from '@under-lock/core/defined';
import { type Account } from '@under-lock/contract/account';
import { type Office } from '@under-lock/contract/office';
import { fromBase64Url } from '@under-lock/core/bytes';
import { noticeLink } from '@under-lock/core/locks/room/grant';
import { type NoticeLook } from '@under-lock/core/notice/look';
import { type Notice } from '@under-lock/core/notice/notice';
import { type Sent } from './useSent';

export type SentWithNotices = Sent & {
  contentBlobId?: string | undefined;
  notices: {
    grantId: string;
    sentAt: Date;
    messageId: string;
    sha256: Uint8Array;
    lookId?: string | undefined;
    extension?: string | undefined;
    answerThere: boolean;
  }[];
  looks: Record<string, NoticeLook>;
};
export interface LeftNotice {
  grantId: string;
  notice: Notice;
  recorded: Uint8Array;
}

export function noticesOf(message: SentWithNotices, account: Account, office: Office): LeftNotice[] {
  return message.notices.flatMap(
    ({ grantId, sentAt, messageId, sha256: recorded, lookId, extension, answerThere }): LeftNotice[] => {
      const grant = message.grants.find((one) => one.id === grantId);
      const share = message.opened?.links[grantId];
      // A colleague gets no notice.
      if (grant === undefined || share === undefined || grant.check.kind === 'account') return [];
      const look = lookId === undefined ? undefined : message.looks[lookId];
      const check = { ...grant.check, kind: grant.check.kind };
      return [
        {
          grantId,
          recorded,
          notice: {
            messageId,
            date: sentAt,
            officeName: office.name,
            sender: { name: account.name, address: message.from ?? account.address },
            recipient: { name: grant.name, address: grant.address },
            closesAt: grant.closesAt,
            zone: office.calendar.zone,
            check,
            link: noticeLink(
              office.roomOrigin,
              grant.id,
              check.kind === 'password' ? undefined : fromBase64Url(share),
              grant.carried,
            ),
            language: grant.language,
            answerThere,
            ...defined({ look }),
            ...(grant.carried ? { carried: extension === undefined ? {} : { extension } } : {}),
          },
        },
      ];
    },
  );
}
