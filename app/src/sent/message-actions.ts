/** What a sender may still do, each with the sentence that says it was done. */
import { toldProof } from '@under-lock/core/identity/told';
import { type KeptGrant } from '@under-lock/core/outgoing/draft';
import { defined } from '@under-lock/core/defined';
import {
  addReader,
  changeChannel,
  type Channel,
  giveAgain,
  type Grant,
  moveClosing,
  renewTries,
  tellAgain,
  withdrawGrants,
} from '@under-lock/contract/outgoing';
import { fromBase64Url } from '@under-lock/core/bytes';
import { noticeLink } from '@under-lock/core/locks/room/grant';
import { momentInWords } from '@under-lock/core/when';
import { api } from '../api';
import { zone } from '../clock';
import { door } from '../threads/main/door';
import { who } from '../handling/grant-words';
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { outgoingGrant } from '@under-lock/core/outgoing/dispatch';
import { type Asked, type WantedReader } from '@under-lock/core/locks/wanted';
import { type Summary } from '@under-lock/core/outgoing/draft';
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
  await api(tellAgain, {
    params: { id: message.id, grantId: grant.id },
    body: grant.check.kind === 'password' ? {} : { readerShare: shareOf(message, grant) },
  });
  return `${who(grant)} is being told again.`;
}

/** Tells several again, one after another; says how many could not be. */
export async function tellAll(message: Opened, grants: readonly Grant[]): Promise<string> {
  const tellable = grants.filter(
    (grant) => summaryOf(message).links[grant.id] !== undefined && grant.check.kind !== 'account',
  );
  for (const grant of tellable) await tellAgainNow(message, grant);
  const left = grants.length - tellable.length;
  return `${tellable.length === 1 ? '1 person is' : `${tellable.length} people are`} being told again.${left === 0 ? '' : ` ${left} get no notice from you: colleagues, and those whom a reader passed it on to.`}`;
}

export async function copyLink(roomOrigin: string, message: Sent, grant: Grant): Promise<string> {
  const registered = grant.check.kind === 'password';
  await navigator.clipboard.writeText(
    noticeLink(roomOrigin, grant.id, registered ? undefined : shareOf(message, grant)),
  );
  return `The link for ${who(grant)} is copied. ${registered ? 'It opens nothing without their password.' : 'Hand it over by a way only they read; they still need the passcode.'}`;
}

export async function moveDate(message: Sent, grants: Grant[], closesAt: Date, now: Date): Promise<string> {
  const { moved } = await api(moveClosing, {
    params: { id: message.id },
    body: { grantIds: grants.map(({ id }) => id), closesAt },
  });
  return moved === 0
    ? 'Nothing was moved: the access had ended in the meantime.'
    : `Readable until ${momentInWords(closesAt, now, zone)} for ${moved === 1 ? who(grants[0]!) : `${moved} people`}.`;
}

export async function withdrawFrom(message: Sent, grants: Grant[]): Promise<string> {
  const { withdrawn, hadOpened } = await api(withdrawGrants, {
    params: { id: message.id },
    body: { grantIds: grants.map(({ id }) => id) },
  });
  const people = withdrawn === 1 ? (grants.length === 1 ? who(grants[0]!) : '1 person') : `${withdrawn} people`;
  return `Withdrawn from ${people}. ${hadOpened === 0 ? 'Nobody had opened it.' : `${hadOpened} had opened it before; what was read can’t be taken back.`}`;
}

/** How somebody is to be known from now on: the target of a passcode, or a question asked anew. */
export interface WantedCheck {
  check: IdentityCheck;
  target?: string;
  question?: Asked;
  /** A one-time password that the worker tells them. */
  told?: string;
}

export async function changeCheck(
  message: Sent,
  grant: Grant,
  { check, target, question, told }: WantedCheck,
): Promise<string> {
  const asked =
    question === undefined
      ? undefined
      : await door().message.ask(summaryOf(message).links[grant.id]!, grant.id, question);
  const body: Channel =
    check === 'question'
      ? { kind: check, question: asked! }
      : check === 'told'
        ? {
            kind: check,
            toldProof: await toldProof(told!, fromBase64Url(summaryOf(message).links[grant.id]!)),
            ...defined({ question: asked }),
          }
        : { kind: check, target: target!, ...defined({ question: asked }) };
  await api(changeChannel, { params: { id: message.id, grantId: grant.id }, body });
  if (check === 'told')
    return `Tell ${who(grant)} this one-time password, by phone or in person: ${told!}. It is shown only now, and opens the message once.`;
  return check === 'question'
    ? `${who(grant)} is asked the new question from now on.`
    : `The next passcode for ${who(grant)} goes there.`;
}

export async function letThemTryAgain(message: Pick<Sent, 'id'>, grant: Grant): Promise<string> {
  await api(renewTries, { params: { id: message.id, grantId: grant.id } });
  return `${who(grant)} can try again.`;
}

export interface NewReader {
  name: string;
  address: string;
  reader: WantedReader;
  closesAt: Date;
  /** An access that stood under a wrong address. */ corrects: Grant | undefined;
}

/** What the vault keeps once an access was added: its link, and a one-time password that is to be told. */
const withAccess = (summary: Summary, { id, readerShare, reader }: KeptGrant): Summary => ({
  ...summary,
  links: { ...summary.links, [id]: readerShare },
  ...(reader.kind === 'link' && reader.told !== undefined
    ? { told: { ...summary.told, [id]: reader.told.password } }
    : {}),
});

/** Somebody more, under the message's own handling. */
export async function letRead(
  message: Sent,
  { name, address, reader, closesAt, corrects }: NewReader,
): Promise<string> {
  const summary = summaryOf(message);
  const [made] = await door().message.split({ messageId: message.id, subject: summary.subject }, summary.key, [
    { address, name, role: corrects?.role ?? 'cc', reader },
  ]);
  const next = withAccess(summary, made!);
  await api(addReader, {
    params: { id: message.id },
    body: {
      ...(corrects === undefined ? {} : { corrects: corrects.id }),
      closesAt,
      grant: outgoingGrant(made!),
      summary: await door().vault.sealSent(message.id, next),
    },
  });
  return `${name || address} can read it, too, and ${reader.kind === 'account' ? 'finds it in Received' : 'is being told'}.${corrects === undefined ? '' : ` The access under ${corrects.address} has ended.`}`;
}

/** A fresh split of the content key, since nothing of the old one is left. */
export async function giveAccessAgain(
  message: Sent,
  grant: Grant,
  reader: WantedReader,
  closesAt: Date,
): Promise<string> {
  const summary = summaryOf(message);
  const [made] = await door().message.split({ messageId: message.id, subject: summary.subject }, summary.key, [
    { address: grant.address, name: grant.name, role: grant.role, ...(grant.carried ? { carried: true } : {}), reader },
  ]);
  const next = withAccess(summary, made!);
  await api(giveAgain, {
    params: { id: message.id },
    body: {
      replaces: grant.id,
      closesAt,
      grant: outgoingGrant(made!),
      summary: await door().vault.sealSent(message.id, next),
    },
  });
  return reader.kind === 'account'
    ? `${who(grant)} has access again, in Received.`
    : reader.kind === 'registered'
      ? `${who(grant)} has access again, in their list, and is being told.`
      : `${who(grant)} has access again and is being told, with a new ${grant.carried ? 'file' : 'link'}.`;
}
