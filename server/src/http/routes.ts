/** Every route, a table of contents: who may call stands in the contract, what happens stands in the features. */
import { defined } from '@under-lock/core/defined';
import { officePaths } from '@under-lock/contract/office-paths';
import * as accountApi from '@under-lock/contract/account';
import * as blobApi from '@under-lock/contract/blob';
import * as certificateApi from '@under-lock/contract/certificate';
import { type Endpoint } from '@under-lock/contract/endpoint';
import * as messageApi from '@under-lock/contract/outgoing';
import * as fileLockApi from '@under-lock/contract/file-lock';
import * as phoneApi from '@under-lock/contract/phone';
import * as officeApi from '@under-lock/contract/office';
import * as openPgpApi from '@under-lock/contract/openpgp';
import * as presetApi from '@under-lock/contract/handling';
import * as liveApi from '@under-lock/contract/live';
import * as receivedApi from '@under-lock/contract/received';
import * as releaseApi from '@under-lock/contract/release';
import * as rulesApi from '@under-lock/contract/rules';
import * as searchApi from '@under-lock/contract/search';
import * as vaultApi from '@under-lock/contract/vault';
import { type Context as Http } from 'koa';
import {
  accountForRecovery,
  changePassword,
  hashingFor,
  invite,
  invitedAccount,
  recover,
  replaceRecoveryCode,
  setUp,
  signIn,
} from '../account/account';
import { putAddresses } from '../account/addresses';
import { putDepartments } from '../account/departments';
import { putMayRelease } from '../account/may-release';
import { changeRole, endAccount, endSessionsOf, reopenAccount } from '../account/manage';
import { byAccount, logged, telling } from '../log/log';
import { accountOf, endOtherSessions, endSession, SESSION_LIFE_MS, sessionOf, signedIn } from '../account/session';
import { deleteBlob, ownBlob, putPart, readPart, receivedParts, startBlob } from '../blob/blob';
import { searchDirectory } from '../certificate/directory';
import { getEvidence } from '../certificate/evidence';
import { listIssued, requestCertificate, revokeCertificate } from '../certificate/own';
import { addAnchor, listAnchors, removeAnchor } from '../certificate/trust';
import { type Context } from '../context';
import { AccountRow, SessionRow } from '../data/models';
import { desk } from '../desk/desk';
import { dispatchMessage, sendRequest } from '../outgoing/dispatch';
import { letGo, listReleases, readRelease, readReleasePart, sendBack, takeReleaseBack } from '../outgoing/release';
import { takeBack } from '../outgoing/leaving';
import { type Streams } from '../live/streams';
import { findByState } from '../search/state';
import { wordsFor } from '../search/words';
import { listAccesses, listReaders, withdrawFromReaders } from '../access/readers';
import { makeDelivery } from '../statement/delivery';
import { makeStatement } from '../statement/statement';
import { getConversation } from '../conversation/conversation';
import { answeredByIds } from '../mail/answered';
import {
  addReader,
  changeChannel,
  getSent,
  listEvents,
  giveAgain,
  listSent,
  listWrittenTo,
  writtenTogether,
  moveClosing,
  renewTries,
  tellAgain,
  withdraw,
} from '../outgoing/sent';
import { findKeys } from '../openpgp/find';
import { addCertifications, listPublished, listStaffKeys, publishKey, unpublishKey } from '../openpgp/published';
import { addTrustedKey, listTrustedKeys, removeTrustedKey } from '../openpgp/trust';
import { publishedKeys, replaceDkimKey } from '../mail/dkim';
import { permitText } from '../phone/permit';
import { changeFileRules, currentFileRules } from '../office/file-rules';
import { changeLook, currentLook } from '../office/look';
import { lookUpRecords } from '../office/records';
import { setup, tryOutMail } from '../office/setup';
import { statementKeyId } from '../statement/statement-key';
import { countStopped, ruleFigures } from '../rules/figures';
import { newTo } from '../outgoing/ruled';
import { currentPolicy, examplesOf, itemVersions, putPolicyItem, removePolicyItem, withoutOff } from '../rules/policy';
import { deletePreset, listPresets, orderPresets, putPreset, setDefaultPreset } from '../handling/preset';
import {
  getReceived,
  listReceived,
  markReceived,
  news,
  confirmReceived,
  openReceived,
  readReceivedPart,
  recordReceivedUse,
} from '../received/received';
import { setTold } from '../received/tell';
import { deleteIncoming, getIncoming, putIncoming, restoreIncoming } from '../incoming/incoming';
import { dropItem, getItem, listItems, putItem, putManifest } from '../vault/vault';
import { keepAccountKey } from '../account/key';
import { mountBook } from './book-routes';
import { cookieOf, deviceOf, rememberDevice, SESSION, setCookie } from './cookie';
import { type Mount, mounter } from './mount';
import { mountRoom } from './room-routes';
import { Routers } from './routers';
import { mountSlots } from './slot-routes';
import { mountSubmission } from './submission-routes';

function cookiesOf(context: Context) {
  const worker = (http: Http, token: string | null): void => setCookie(context, http, SESSION, token, SESSION_LIFE_MS);
  return {
    worker,
    /** From now on this browser is signed in, and known for the next time. */
    entered(http: Http, account: AccountRow, token: string) {
      worker(http, token);
      rememberDevice(context, http, 'worker', account.address);
      return sessionOf(context, account);
    },
  };
}
type Cookies = ReturnType<typeof cookiesOf>;

/** The office: what it is called, how its mail looks, what it still has to set up. */
function mountOffice(mount: Mount, context: Context, streams: Streams): void {
  const { config } = context;
  mount(liveApi.listenLive, ({ http, who }) => streams.open(http, who));
  mount(officeApi.getOffice, async () => ({
    name: config.office.name,
    mailDomain: config.office.mailDomain,
    calendar: config.office.calendar,
    limits: config.office.limits,
    undoSeconds: config.office.undoSeconds,
    unopenedAfterDays: config.office.unopenedAfterDays,
    roomOrigin: config.roomOrigin,
    look: (await currentLook(context)).look,
    statementKey: await statementKeyId(context),
    ...defined({ outsideUrl: config.outsideUrl }),
  }));
  mount(officeApi.putNoticeLook, ({ who, body }) => changeLook(context, who.account.id, body));
  mount(phoneApi.permitText, ({ who, body }) => permitText(context, who.account, body.to));
  mount(fileLockApi.getFileRules, () => currentFileRules(context));
  mount(fileLockApi.putFileRules, ({ who, body }) => changeFileRules(context, who.account.id, body));
  mount(officeApi.listSigningKeys, async () => ({ keys: await publishedKeys(context) }));
  mount(officeApi.replaceSigningKey, ({ who }) =>
    telling(context, { kind: 'signing-key-replaced', actor: byAccount(who.account.id) }, (transaction) =>
      replaceDkimKey(context, transaction),
    ),
  );
  mount(officeApi.getSetup, () => setup(context));
  mount(officeApi.tryMail, ({ who }) => tryOutMail(context, who.account));
  mount(officeApi.lookUpRecords, async ({ who }) => ({ records: await lookUpRecords(context, who.account) }));
  mount(officeApi.sayRecordsPublished, ({ who }) =>
    logged(context, { kind: 'records-published', actor: byAccount(who.account.id) }),
  );
}

/** In and out, and the way back for who has forgotten the password. */
function mountSignIn(mount: Mount, context: Context, cookies: Cookies): void {
  mount(accountApi.startSignIn, ({ body }) => hashingFor(context, body.address));
  mount(accountApi.signIn, async ({ body, ip, http }) => {
    const { account, token } = await signIn(context, {
      ...body,
      deviceName: body.device,
      ip,
      device: deviceOf(context, http, 'worker'),
    });
    return cookies.entered(http, account, token);
  });
  mount(accountApi.getSession, async ({ http }) => {
    const who = await signedIn(context, cookieOf(context, http, SESSION));
    return who === undefined ? {} : { session: await sessionOf(context, who.account) };
  });
  mount(accountApi.signOut, async ({ who, http }) => {
    await endSession(context, who);
    cookies.worker(http, null);
  });
  mount(accountApi.startRecovery, async ({ body, ip, http }) => {
    const { account, wrappedSecret } = await accountForRecovery(context, {
      ...body,
      ip,
      device: deviceOf(context, http, 'worker'),
    });
    return { accountId: account.id, wrappedSecret };
  });
  mount(accountApi.finishRecovery, async ({ body, ip, http }) => {
    const { account, token } = await recover(context, {
      ...body,
      deviceName: body.device,
      ip,
      device: deviceOf(context, http, 'worker'),
    });
    return cookies.entered(http, account, token);
  });
}

/** One's own account, from the invitation on. */
function mountAccount(mount: Mount, context: Context, cookies: Cookies): void {
  const { config } = context;
  mount(accountApi.listSessions, async ({ who }) => ({
    sessions: (
      await SessionRow.findAll({ where: { accountId: who.account.id }, order: [['lastSeenAt', 'DESC']], limit: 100 })
    ).map((row) => ({
      id: row.id,
      device: row.device,
      createdAt: row.createdAt,
      lastSeenAt: row.lastSeenAt,
      current: row.id === who.session.id,
    })),
  }));
  mount(accountApi.endOtherSessions, async ({ who }) => ({ ended: await endOtherSessions(context, who) }));
  mount(accountApi.changePassword, ({ who, body }) => changePassword(context, who, body.currentAuthKey, body.password));
  mount(accountApi.replaceRecoveryCode, ({ who, body }) =>
    replaceRecoveryCode(context, who, body.currentAuthKey, body.recovery),
  );
  mount(accountApi.lookAtInvitation, async ({ body }) => accountOf(await invitedAccount(context, body.token)));
  mount(accountApi.setUpAccount, async ({ body, http }) => {
    const { account, token } = await setUp(context, body);
    return cookies.entered(http, account, token);
  });
  mount(accountApi.invite, async ({ who, body }) => {
    const { token, until } = await invite(context, body, byAccount(who.account.id));
    return { link: `${config.origin}${officePaths.setUp(token)}`, until };
  });
  mount(accountApi.setToldByMail, ({ who, body }) => setTold(context, who.account, body));
  mount(
    accountApi.setOwnPhone,
    async ({ who, body }) =>
      void (await telling(context, { kind: 'phone-changed', actor: byAccount(who.account.id) }, (transaction) =>
        who.account.update({ phone: body.phone ?? null }, { transaction }),
      )),
  );
  mount(accountApi.recordExport, ({ who, body }) =>
    logged(context, { kind: 'exported', actor: byAccount(who.account.id), about: { what: body.what } }),
  );
  mount(accountApi.putAccountKey, ({ who, body }) => keepAccountKey(context, who.account, body));
}

function mountColleagues(mount: Mount, context: Context): void {
  mount(accountApi.endAccount, ({ who, params, body }) => endAccount(context, who.account, params.id, body.withdraw));
  mount(accountApi.reopenAccount, ({ who, params }) => reopenAccount(context, who.account, params.id));
  mount(accountApi.endSessionsOf, async ({ who, params }) => ({
    ended: await endSessionsOf(context, who.account, params.id),
  }));
  mount(accountApi.changeRole, ({ who, params, body }) => changeRole(context, who.account, params.id, body.role));
  mount(accountApi.putDepartments, ({ who, params, body }) =>
    putDepartments(context, who.account, params.id, body.departments),
  );
  mount(accountApi.putMayRelease, ({ who, params, body }) => putMayRelease(context, who.account, params.id, body.may));
  mount(accountApi.putAddresses, ({ who, params, body }) =>
    putAddresses(context, who.account, params.id, body.addresses),
  );
  mount(accountApi.listColleagues, async () => ({
    colleagues: (await AccountRow.findAll({ order: ['name'], limit: 5000 })).map((row) => ({
      ...accountOf(row),
      setUp: row.authHash !== null,
      ...(row.endedAt == null ? {} : { endedAt: row.endedAt }),
      ...(row.publicKey == null || row.keySuite == null || row.endedAt != null
        ? {}
        : { key: { suite: row.keySuite, publicKey: new Uint8Array(row.publicKey) } }),
    })),
  }));
}

/** What browsers keep sealed here, and the octets of what they send. */
function mountVault(mount: Mount, context: Context): void {
  mount(vaultApi.listVault, ({ who, params, query }) => listItems(context, who.account.id, params.kind, query));
  mount(vaultApi.getVaultItem, ({ who, params, query }) =>
    getItem(context, who.account.id, params.kind, params.id, query.known),
  );
  mount(vaultApi.putVaultItem, async ({ who, params, body }) => ({
    revision: await putItem(context, { accountId: who.account.id, ...params, ...body }),
  }));
  mount(vaultApi.dropVaultItem, ({ who, params, body }) =>
    dropItem(context, { accountId: who.account.id, ...params, ...body }),
  );
  mount(vaultApi.putVaultManifest, ({ who, params, body }) => putManifest(context, who.account.id, params.kind, body));
  mount(blobApi.startBlob, async ({ who, body }) => ({
    received: await startBlob(context, who.account.id, body.id, body.size),
  }));
  mount(blobApi.getBlob, async ({ who, params }) => {
    const blob = await ownBlob(who.account.id, params.id);
    return { size: Number(blob.size), received: await receivedParts(context, blob.id) };
  });
  mount(blobApi.putPart, async ({ who, params, body }) =>
    putPart(context, await ownBlob(who.account.id, params.id), params.index, body),
  );
  mount(blobApi.getPart, async ({ who, params }) =>
    readPart(context, (await ownBlob(who.account.id, params.id)).id, params.index),
  );
  mount(blobApi.deleteBlob, ({ who, params }) => deleteBlob(context, who.account.id, params.id));
}

function mountReleases(mount: Mount, context: Context): void {
  mount(releaseApi.listReleases, ({ who }) => listReleases(context, who.account.id));
  mount(releaseApi.getRelease, ({ who, params }) => readRelease(context, who.account.id, params.id));
  mount(releaseApi.getReleasePart, ({ who, params }) =>
    readReleasePart(context, who.account.id, params.id, params.index),
  );
  mount(releaseApi.letGo, async ({ who, params }) => ({ sentAt: await letGo(context, who.account, params.id) }));
  mount(releaseApi.sendBack, ({ who, params, body }) => sendBack(context, who.account, params.id, body.sentence));
  mount(releaseApi.takeReleaseBack, ({ who, params }) => takeReleaseBack(context, who.account.id, params.id));
}

/** What is sent, found again and looked at. */
function mountMessages(mount: Mount, context: Context): void {
  mount(messageApi.sendRequest, ({ who, params, body }) =>
    sendRequest(context, who.account, { id: params.id, ...body }),
  );
  mount(messageApi.dispatchMessage, async ({ who, params, body }) => {
    const { sentAt, already } = await dispatchMessage(context, who.account, { id: params.id, ...body }, who.device);
    return { already, ...(sentAt === undefined ? {} : { sentAt }) };
  });
  mount(messageApi.takeBack, ({ who, params }) => takeBack(context, who.account.id, params.id));
  mount(messageApi.listTogether, async ({ who, body }) => ({
    addresses: await writtenTogether(context, who.account.id, body.addresses),
  }));
  mount(messageApi.listWrittenTo, async ({ who }) => ({ people: await listWrittenTo(context, who.account.id) }));
  mount(searchApi.fetchWords, ({ who, body }) => wordsFor(context, who.account.id, body));
  mount(searchApi.findByState, ({ who, query }) => findByState(context, who.account.id, query));
  mount(messageApi.listSent, ({ who, query }) => listSent(context, who.account.id, query));
  mount(messageApi.listEvents, ({ who, params, query }) => listEvents(who.account.id, params.id, query.before));
  mount(messageApi.getSent, ({ who, params }) => getSent(context, who.account.id, params.id));
  mount(messageApi.findAnswered, async ({ who, body }) => {
    const answered = await answeredByIds(context, who.account.id, body.answers);
    if (answered === undefined) return {};
    return { answered: { textOpen: answered.textOpen, ...defined({ hadLock: answered.hadLock }) } };
  });
  mount(messageApi.getConversation, async ({ who, params }) => ({
    messages: await getConversation(context, who.account.id, params.id),
  }));
  mount(messageApi.getDesk, ({ who, query }) => desk(context, who.account.id, query.zone));
}

/** Who can read what was sent, until when, and what can be stated of it. */
function mountAccesses(mount: Mount, context: Context): void {
  mount(messageApi.moveClosing, async ({ who, params, body }) => ({
    moved: await moveClosing(context, who.account.id, params.id, body.grantIds, body.closesAt),
  }));
  mount(messageApi.withdrawGrants, ({ who, params, body }) =>
    withdraw(context, who.account.id, params.id, body.grantIds),
  );
  mount(messageApi.tellAgain, ({ who, params, body }) =>
    tellAgain(context, who.account.id, params.id, params.grantId, body.readerShare),
  );
  mount(messageApi.changeChannel, ({ who, params, body }) =>
    changeChannel(context, who.account, params.id, params.grantId, body),
  );
  mount(messageApi.renewTries, ({ who, params }) => renewTries(context, who.account.id, params.id, params.grantId));
  mount(messageApi.addReader, ({ who, params, body }) => addReader(context, who.account, params.id, body));
  mount(messageApi.giveAgain, ({ who, params, body }) => giveAgain(context, who.account, params.id, body));
  mount(messageApi.listReaders, async ({ who }) => ({ readers: await listReaders(context, who.account.id) }));
  mount(messageApi.listAccesses, ({ who, query }) => listAccesses(context, who.account.id, query.address));
  mount(messageApi.withdrawFromReaders, ({ who, body }) =>
    withdrawFromReaders(context, who.account.id, body.addresses),
  );
  mount(messageApi.makeStatement, ({ who, params, body }) =>
    makeStatement(context, who.account, params.id, body.grantIds),
  );
  mount(messageApi.makeDeliveryStatement, ({ who, params }) => makeDelivery(context, who.account, params.id));
}

/** Presets and rules. */
function mountRules(mount: Mount, context: Context): void {
  mount(presetApi.listPresets, async ({ who }) => ({
    presets: await listPresets(who.account),
  }));
  mount(rulesApi.getPolicy, async ({ who }) => {
    const policy = await currentPolicy(context);
    return who.account.role === 'administrator' ? policy : withoutOff(policy);
  });
  mount(rulesApi.putPolicyItem, async ({ who, params, body }) => ({
    version: await putPolicyItem(context, who.account.id, params.id, body),
  }));
  mount(rulesApi.removePolicyItem, ({ who, params }) => removePolicyItem(context, who.account.id, params.id));
  mount(rulesApi.listItemVersions, async ({ params }) => ({ versions: await itemVersions(context, params.id) }));
  mount(rulesApi.listExamples, async ({ params }) => ({ examples: await examplesOf(context, params.id) }));
  mount(rulesApi.getRuleFigures, () => ruleFigures(context));
  mount(rulesApi.tellStopped, ({ who, body }) => countStopped(context, who.account.id, body));
  mount(rulesApi.listNewTo, async ({ who, body }) => ({
    addresses: [...(await newTo(context, who.account.id, body.addresses))],
  }));
  mount(presetApi.putPreset, ({ who, params, body }) => putPreset(context, who.account.id, params.id, body));
  mount(presetApi.orderPresets, ({ who, body }) => orderPresets(context, who.account.id, body.ids));
  mount(presetApi.setDefaultPreset, ({ who, body }) => setDefaultPreset(context, who.account.id, body.id));
  mount(
    presetApi.deletePreset,
    async ({ who, params }) => void (await deletePreset(context, who.account.id, params.id)),
  );
}

function mountReceived(mount: Mount, context: Context): void {
  mount(receivedApi.getNews, ({ who }) => news(context, who.account.id));
  mount(receivedApi.listReceived, ({ who, query }) => listReceived(context, who.account.id, query));
  mount(receivedApi.getReceived, ({ who, params }) => getReceived(context, who.account.id, params.id));
  mount(receivedApi.openReceived, ({ who, params }) => openReceived(context, who.account.id, params.id));
  mount(receivedApi.getReceivedPart, ({ who, params }) =>
    readReceivedPart(context, who.account.id, params.id, params.index),
  );
  mount(receivedApi.markReceived, ({ who, params, body }) =>
    markReceived(context, who.account.id, params.id, body.unread),
  );
  mount(receivedApi.confirmReceived, ({ who, params }) => confirmReceived(context, who.account.id, params.id));
  mount(receivedApi.recordReceivedUse, ({ who, params, body }) =>
    recordReceivedUse(context, who.account.id, params.id, body.what),
  );
  mount(receivedApi.getIncoming, ({ who, params }) => getIncoming(context, who.account.id, params.id));
  mount(receivedApi.putIncoming, ({ who, params, body }) => putIncoming(context, who.account.id, params.id, body));
  mount(receivedApi.deleteIncoming, ({ who, params }) => deleteIncoming(context, who.account.id, params.id));
  mount(receivedApi.restoreIncoming, ({ who, params }) => restoreIncoming(context, who.account.id, params.id));
}

function mountCertificates(mount: Mount, context: Context): void {
  mount(certificateApi.requestCertificate, ({ who, body }) =>
    requestCertificate(context, who.account, body.request, body.purpose),
  );
  mount(certificateApi.revokeCertificate, ({ who, body }) =>
    revokeCertificate(context, who.account, body.fingerprint, body.reason),
  );
  mount(certificateApi.listIssued, async ({ who }) => ({ certificates: await listIssued(context, who.account) }));
  mount(certificateApi.getTrust, async () => ({ anchors: await listAnchors(context) }));
  mount(certificateApi.addAnchor, ({ who, body }) => addAnchor(context, who.account.id, body));
  mount(certificateApi.removeAnchor, ({ who, params }) => removeAnchor(context, who.account.id, params.id));
  mount(certificateApi.getEvidence, ({ who, body }) => getEvidence(context, who.account.id, body));
  mount(certificateApi.searchDirectory, async ({ query }) => ({ entries: await searchDirectory(context, query) }));
}

function mountOpenPgp(mount: Mount, context: Context): void {
  mount(openPgpApi.findKeys, ({ body }) => findKeys(context, body.wanted));
  mount(openPgpApi.listPublished, async ({ who }) => ({ keys: await listPublished(context, who.account) }));
  mount(openPgpApi.publishKey, ({ who, params, body }) =>
    publishKey(context, who.account, params.fingerprint, body.key),
  );
  mount(openPgpApi.unpublishKey, ({ who, params }) => unpublishKey(context, who.account, params.fingerprint));
  mount(openPgpApi.listStaffKeys, async () => ({ keys: await listStaffKeys(context) }));
  mount(openPgpApi.addCertifications, ({ who, params, body }) =>
    addCertifications(context, who.account.id, params.fingerprint, body.key),
  );
  mount(openPgpApi.getKeyTrust, async () => ({ keys: await listTrustedKeys(context) }));
  mount(openPgpApi.addTrustedKey, ({ who, body }) => addTrustedKey(context, who.account.id, body));
  mount(openPgpApi.removeTrustedKey, ({ who, params }) => removeTrustedKey(context, who.account.id, params.id));
}

export function routes(context: Context, streams: Streams): { routers: Routers; mounted: Set<Endpoint> } {
  const routers = new Routers();
  const mounted = new Set<Endpoint>();
  const mount = mounter(routers, context, mounted);
  const cookies = cookiesOf(context);
  mountOffice(mount, context, streams);
  mountSignIn(mount, context, cookies);
  mountAccount(mount, context, cookies);
  mountColleagues(mount, context);
  mountVault(mount, context);
  mountReleases(mount, context);
  mountMessages(mount, context);
  mountAccesses(mount, context);
  mountRules(mount, context);
  mountReceived(mount, context);
  mountCertificates(mount, context);
  mountOpenPgp(mount, context);
  mountBook(context, mount);
  mountSubmission(context, mount);
  mountRoom(mount, context);
  mountSlots(mount, context);
  return { routers, mounted };
}
