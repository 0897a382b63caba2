/** What outsiders call: the reading room, and registered readers' lists. */
import * as choiceApi from '@under-lock/contract/choice';
import * as registeredApi from '@under-lock/contract/registered';
import * as roomApi from '@under-lock/contract/room';
import * as writingApi from '@under-lock/contract/writing';
import { currentLook } from '../office/look';
import {
  askMailbox,
  changeReaderPassword,
  findRegistered,
  finishReset,
  forgetReader,
  readerHashing,
  register,
  setReaderLanguage,
  signInReader,
  startReset,
  type Entered,
} from '../registered/account';
import { dropDraft, listDrafts, putDraft } from '../registered/drafts';
import { askToGiveAgain, enterHeld, keepGrant, listHeld, markHeld, removeHeld } from '../registered/held';
import {
  endDevice,
  endSignIn,
  listDevices,
  registeredSession,
  SIGN_IN_LIFE_MS,
  signedInReader,
} from '../registered/sign-in';
import { listWritten, putWrittenPart, readWrittenPart, sendWritten, startWrittenBlob } from '../registered/written';
import {
  askOtherWay,
  confirmRoom,
  identify,
  leaveRoom,
  lookAtRoom,
  openRoom,
  readerSession,
  READER_SESSION_MS,
  readRoomPart,
  sayNotForMe,
  sendPasscode,
  recordRoomUse,
} from '../room/room';
import { certifyReader, choose, choosing } from '../room/choice';
import { choiceByLink, takeChoiceBack } from '../room/choice-link';
import { forward, listForwards } from '../room/forward';
import { listReplies, readReplyPart, replyTargets, sendReply, startReplyBlob } from '../room/reply';
import { randomBytes } from 'node:crypto';
import { type Context as Http } from 'koa';
import { putPart, readersBlob } from '../blob/blob';
import { type Context } from '../context';
import { Problem } from '../problem';
import { cookieOf, deviceOf, READER, REGISTERED, rememberDevice, RESET, setCookie } from './cookie';
import { type Mount } from './mount';

const RESET_LIFE_MS = 86_400_000;

function cookiesOf(context: Context) {
  const registered = (http: Http, token: string | null): void =>
    setCookie(context, http, REGISTERED, token, SIGN_IN_LIFE_MS);
  return {
    registered,
    reader: (http: Http, grantId: string, token: string | null): void =>
      setCookie(context, http, READER(grantId), token, READER_SESSION_MS),
    /** From now on this browser is signed in, and known for the next time. */
    entered(http: Http, { session, token }: Entered) {
      registered(http, token);
      rememberDevice(context, http, 'reader', session.reader.address);
      return session;
    },
  };
}
type Cookies = ReturnType<typeof cookiesOf>;

/** The room itself, and what is chosen there for what comes next. */
function mountReading(mount: Mount, context: Context, cookies: Cookies): void {
  mount(roomApi.lookAtRoom, ({ params, http }) =>
    lookAtRoom(context, params.id, cookieOf(context, http, READER(params.id))),
  );
  mount(roomApi.sendPasscode, ({ params, body }) => sendPasscode(context, params.id, body.proof));
  mount(roomApi.enterPasscode, async ({ params, body, http }) => {
    cookies.reader(http, params.id, await identify(context, params.id, body.proof, body));
  });
  mount(roomApi.sayNotForMe, ({ params, body }) => sayNotForMe(context, params.id, body.proof));
  mount(roomApi.askOtherWay, ({ params, body }) => askOtherWay(context, params.id, body.proof, body.wish));
  mount(roomApi.recordRoomUse, ({ params, body }) => recordRoomUse(context, params.id, body.what));
  mount(roomApi.confirmRoom, ({ params }) => confirmRoom(context, params.id));
  mount(roomApi.openRoom, ({ params, reader }) => openRoom(context, params.id, reader));
  mount(roomApi.getRoomPart, ({ params, reader }) => readRoomPart(context, reader, params.index));
  mount(choiceApi.getChoosing, ({ reader }) => choosing(context, reader));
  mount(choiceApi.putChoice, ({ reader, body }) => choose(context, reader, body));
  mount(choiceApi.lookAtChoice, ({ params, body }) => choiceByLink(context, params.id, body.token));
  mount(choiceApi.takeChoiceBack, ({ params, body }) => takeChoiceBack(context, params.id, body.token));
  mount(choiceApi.certifyReader, ({ reader, body }) => certifyReader(context, reader, body.request));
  mount(roomApi.leaveRoom, async ({ params, reader, http }) => {
    await leaveRoom(context, reader);
    cookies.reader(http, params.id, null);
  });
}

function mountWriting(mount: Mount, context: Context): void {
  mount(writingApi.listReplyTargets, ({ params }) => replyTargets(context, params.id));
  mount(writingApi.startReplyBlob, async ({ params, body }) => ({
    received: await startReplyBlob(context, params.id, body.id, body.size),
  }));
  mount(writingApi.putReplyPart, async ({ params, body }) =>
    putPart(context, await readersBlob(params.id, params.blobId), params.index, body),
  );
  mount(writingApi.sendReply, ({ params, body }) => sendReply(context, params.id, body));
  mount(writingApi.forwardRoom, ({ params, body }) => forward(context, params.id, body));
  mount(writingApi.listForwards, async ({ params }) => ({ forwards: await listForwards(context, params.id) }));
  mount(writingApi.listReplies, async ({ params }) => ({ replies: await listReplies(context, params.id) }));
  mount(writingApi.getReplyPart, ({ params }) => readReplyPart(context, params.id, params.replyId, params.index));
}

/** Registered readers: in and out, and the way back for who has forgotten the password. */
function mountSignIn(mount: Mount, context: Context, cookies: Cookies): void {
  mount(registeredApi.sendMailboxCode, ({ params }) => askMailbox(context, params.id));
  mount(registeredApi.registerReader, async ({ params, body, http }) => {
    const made = await register(context, params.id, body);
    return cookies.entered(http, made);
  });
  mount(registeredApi.startReaderSignIn, ({ body }) => readerHashing(context, body.address));
  mount(registeredApi.signInReader, async ({ body, ip, http }) => {
    const made = await signInReader(context, {
      ...body,
      deviceName: body.device,
      ip,
      device: deviceOf(context, http, 'reader'),
    });
    return cookies.entered(http, made);
  });
  mount(registeredApi.getReaderSession, async ({ http }) => {
    const found = await signedInReader(context, cookieOf(context, http, REGISTERED));
    return {
      officeName: context.config.office.name,
      colour: (await currentLook(context)).look.colour,
      ...(found === undefined ? {} : { session: await registeredSession(context, found.reader) }),
    };
  });
  mount(registeredApi.signOutReader, async ({ registered, http }) => {
    await endSignIn(context, registered);
    cookies.registered(http, null);
  });
  mount(registeredApi.startReset, async ({ body, ip, http }) => {
    // The digits work in the browser that asked for them, and in no other.
    const ticket = cookieOf(context, http, RESET) ?? randomBytes(16).toString('base64url');
    setCookie(context, http, RESET, ticket, RESET_LIFE_MS);
    return startReset(context, body.address, { ticket, ip, device: deviceOf(context, http, 'reader') });
  });
  mount(registeredApi.finishReset, async ({ body, http }) => {
    const made = await finishReset(context, body, cookieOf(context, http, RESET));
    setCookie(context, http, RESET, null, 0);
    return cookies.entered(http, made);
  });
}

function mountAccount(mount: Mount, context: Context, cookies: Cookies): void {
  mount(registeredApi.changeReaderPassword, ({ registered, body }) =>
    changeReaderPassword(context, registered, body.currentAuthKey, body.password),
  );
  mount(registeredApi.forgetReader, async ({ registered, body, http }) => {
    await forgetReader(context, registered, body.currentAuthKey);
    cookies.registered(http, null);
  });
  mount(registeredApi.setReaderLanguage, ({ registered, body }) =>
    setReaderLanguage(context, registered, body.language),
  );
  mount(registeredApi.listReaderDevices, ({ registered }) => listDevices(context, registered));
  mount(registeredApi.endReaderDevice, ({ registered, params }) => endDevice(context, registered, params.id));
  mount(registeredApi.listReaderDrafts, ({ registered }) => listDrafts(context, registered.reader));
  mount(registeredApi.putReaderDraft, ({ registered, params, body }) =>
    putDraft(context, registered.reader, params.id, body.sealed),
  );
  mount(registeredApi.dropReaderDraft, ({ registered, params }) => dropDraft(context, registered.reader, params.id));
}

function mountHeld(mount: Mount, context: Context, cookies: Cookies): void {
  mount(registeredApi.listHeld, ({ registered, query }) => listHeld(context, registered.reader, query));
  mount(registeredApi.enterHeld, async ({ registered, params, http }) => {
    const { sealedShare, token } = await enterHeld(context, registered, params.id);
    if (token !== undefined) cookies.reader(http, params.id, token);
    return { sealedShare, identified: token !== undefined };
  });
  mount(registeredApi.keepGrant, async ({ registered, params, body, http }) => {
    // Both are asked: the sign-in, and the access's own check.
    if ((await readerSession(context, params.id, cookieOf(context, http, READER(params.id)))) === undefined)
      throw new Problem('not-identified', 401, 'Please prove who you are first');
    await keepGrant(context, registered, params.id, body);
  });
  mount(registeredApi.markHeld, ({ registered, params, body }) =>
    markHeld(context, registered.reader, params.id, body.unread),
  );
  mount(registeredApi.removeHeld, ({ registered, params }) => removeHeld(context, registered.reader, params.id));
  mount(registeredApi.askToGiveAgain, async ({ registered, body }) => ({
    asked: await askToGiveAgain(context, registered.reader, body.ids),
  }));
}

function mountWritten(mount: Mount, context: Context): void {
  mount(registeredApi.startWrittenBlob, async ({ registered, body }) => ({
    received: await startWrittenBlob(context, registered.reader, body),
  }));
  mount(registeredApi.putWrittenPart, ({ registered, params, body }) =>
    putWrittenPart(context, registered.reader, params.id, params.index, body),
  );
  mount(registeredApi.sendWritten, ({ registered, body }) => sendWritten(context, registered.reader, body));
  mount(registeredApi.listWritten, async ({ registered }) => ({
    items: await listWritten(context, registered.reader),
  }));
  mount(registeredApi.getWrittenPart, ({ registered, params }) =>
    readWrittenPart(context, registered.reader, params.id, params.index),
  );
  mount(registeredApi.findRegistered, async ({ body }) => ({ readers: await findRegistered(body.addresses) }));
}

export function mountRoom(mount: Mount, context: Context): void {
  const cookies = cookiesOf(context);
  mountReading(mount, context, cookies);
  mountWriting(mount, context);
  mountSignIn(mount, context, cookies);
  mountAccount(mount, context, cookies);
  mountHeld(mount, context, cookies);
  mountWritten(mount, context);
}
