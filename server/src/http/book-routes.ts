/** The office book's endpoints. */
import * as choiceApi from '@under-lock/contract/choice';
import * as bookApi from '@under-lock/contract/office-book';
import { type Context } from '../context';
import { doorBook, doorInBook, letDoorIn, letDoorOut } from '../office-book/door';
import {
  dropBookItem,
  getBookItem,
  listBookItems,
  putBookItem,
  putBookItems,
  putBookManifest,
} from '../office-book/items';
import { beginBook, letMemberIn, letMemberOut, officeBook, readmit } from '../office-book/members';
import { searchLdap } from '../office-book/ldap';
import { beginRenewedKey, finishRenewedKey, putRenewedItems } from '../office-book/renewal';
import { keyGivers, settleChoice, waitingChoices } from '../room/choice';
import { type mounter } from './mount';
import { byDevice } from './submission-routes';

export function mountBook(context: Context, mount: ReturnType<typeof mounter>): void {
  mount(choiceApi.listChoices, ({ who }) => waitingChoices(context, who.account));
  mount(choiceApi.settleChoice, ({ who, params, body }) => settleChoice(context, who.account, params.id, body));
  mount(choiceApi.listKeyGivers, ({ who }) => keyGivers(context, who.account));
  mount(bookApi.getOfficeBook, ({ who }) => officeBook(context, who.account.id, (epoch) => doorInBook(context, epoch)));
  mount(bookApi.letDoorIn, ({ who, body }) => letDoorIn(context, who.account, body));
  mount(bookApi.letDoorOut, ({ who }) => letDoorOut(context, who.account));
  mount(bookApi.getDoorBook, ({ who }) => doorBook(context, byDevice(who).account.id));
  mount(bookApi.searchOfficeDirectory, ({ query }) => searchLdap(context, query.holding ?? ''));
  mount(bookApi.beginOfficeBook, ({ who, body }) => beginBook(context, who.account, body));
  mount(bookApi.letIn, ({ who, params, body }) => letMemberIn(context, who.account, params.id, body));
  mount(bookApi.letOut, ({ who, params }) => letMemberOut(context, who.account, params.id));
  mount(bookApi.mayBeLetIn, ({ params }) => readmit(context, params.id));
  mount(bookApi.beginRenewal, ({ who, body }) => beginRenewedKey(context, who.account, body));
  mount(bookApi.putRenewed, ({ who, params, body }) => putRenewedItems(context, who.account, params.kind, body));
  mount(bookApi.finishRenewal, ({ who, body }) => finishRenewedKey(context, who.account, body));
  mount(bookApi.listBook, ({ who, params, query }) => listBookItems(context, who.account.id, params.kind, query));
  mount(bookApi.getBookItem, ({ who, params, query }) =>
    getBookItem(context, who.account.id, params.kind, params.id, query.known),
  );
  mount(bookApi.putBookItem, async ({ who, params, body: { epoch, ...change } }) => ({
    revision: await putBookItem(context, who.account, { ...params, epoch }, change),
  }));
  mount(bookApi.putBookItems, ({ who, params, body }) => putBookItems(context, who.account, params.kind, body));
  mount(bookApi.putBookManifest, ({ who, params, body }) => putBookManifest(context, who.account, params.kind, body));
  mount(bookApi.dropBookItem, ({ who, params, body }) =>
    dropBookItem(context, who.account, { ...params, epoch: body.epoch }, body.manifest),
  );
}
