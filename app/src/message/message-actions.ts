/** What a sender may still do, each with the sentence that says it was done. */
import { changeChannel, giveAgain, type Grant, moveClosing, type NewGrant, tellAgain, withdrawGrants } from '@under-lock/contract/message';
import { fromBase64Url } from '@under-lock/core/bytes';
import { noticeLink } from '@under-lock/core/locks/room/grant';
import { momentInWords } from '@under-lock/core/when';
import * as Clipboard from 'expo-clipboard';
import { api } from '../api';
import { zone } from '../clock';
import { door } from '../worker/door';
import { who } from './grant-words';
import { type Summary } from './draft';
import { type Sent } from './useSent';

type Opened = Pick<Sent, 'id' | 'opened'>;

const summaryOf = (message: Opened): Summary => {
  if (message.opened === undefined) throw new Error('The vault does not open this message');
  return message.opened;
};

const shareOf = (message: Opened, grant: Grant): Uint8Array<ArrayBuffer> => {
  const share = summaryOf(message).links[grant.id];
  if (share === undefined) throw new Error('The vault does not hold this link');
  return fromBase64Url(share);
};

export async function tellAgainNow(message: Opened, grant: Grant): Promise<string> {
  await api(tellAgain, { params: { id: message.id, grantId: grant.id }, body: { readerShare: shareOf(message, grant) } });
  return `${who(grant)} is being told again.`;
}

export async function copyLink(roomOrigin: string, message: Sent, grant: Grant): Promise<string> {
  await Clipboard.setStringAsync(noticeLink(roomOrigin, grant.id, shareOf(message, grant)));
  return `The link for ${who(grant)} is copied. Hand it over by a way only they read; they still need the passcode.`;
}

export async function moveDate(message: Sent, grants: Grant[], closesAt: Date, now: Date): Promise<string> {
  const { moved } = await api(moveClosing, { params: { id: message.id }, body: { grantIds: grants.map(({ id }) => id), closesAt } });
  return moved === 0 ? 'Nothing was moved: the access had ended in the meantime.' : `Readable until ${momentInWords(closesAt, now, zone)} for ${moved === 1 ? who(grants[0]!) : `${moved} people`}.`;
}

export async function withdrawFrom(message: Sent, grants: Grant[]): Promise<string> {
  const { withdrawn, hadOpened } = await api(withdrawGrants, { params: { id: message.id }, body: { grantIds: grants.map(({ id }) => id) } });
  const people = withdrawn === 1 ? (grants.length === 1 ? who(grants[0]!) : '1 person') : `${withdrawn} people`;
  return `Withdrawn from ${people}. ${hadOpened === 0 ? 'Nobody had opened it.' : `${hadOpened} had opened it before; what was read can’t be taken back.`}`;
}

export async function changePasscodeChannel(message: Sent, grant: Grant, channel: NewGrant['channel']): Promise<string> {
  await api(changeChannel, { params: { id: message.id, grantId: grant.id }, body: channel });
  return `The next passcode for ${who(grant)} goes there.`;
}

/** A fresh split of the content key, since nothing of the old one is left. */
export async function giveAccessAgain(message: Sent, grant: Grant, channel: NewGrant['channel'], closesAt: Date): Promise<string> {
  const summary = summaryOf(message);
  const [made] = await door().message.split(message.id, summary.key, [{ address: grant.address, name: grant.name, role: grant.role, channel }]);
  const next: Summary = { ...summary, links: { ...summary.links, [made!.id]: made!.readerShare } };
  await api(giveAgain, {
    params: { id: message.id },
    body: {
      replaces: grant.id,
      closesAt,
      grant: { ...made!, readerShare: fromBase64Url(made!.readerShare), houseShare: fromBase64Url(made!.houseShare), wrappedKey: fromBase64Url(made!.wrappedKey) },
      summary: await door().vault.seal('sent', message.id, next),
    },
  });
  return `${who(grant)} has access again and is being told, with a new link.`;
}
