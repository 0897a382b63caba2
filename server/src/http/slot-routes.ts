/** The mail slots' endpoints: the office's side, and what anybody calls. */
import * as slotApi from '@under-lock/contract/slot';
import { type Context } from '../context';
import { begin, leave, leaving, lookAt, putPartOf, sendCode } from '../slot/leave';
import { senderOf, setSender } from '../slot/senders';
import { addSlot, changeSlot, listSlots, renewLink } from '../slot/slots';
import { type Mount } from './mount';

export function mountSlots(mount: Mount, context: Context): void {
  mount(slotApi.listSlots, async ({ who }) => ({ slots: await listSlots(context, who.account) }));
  mount(slotApi.makeSlot, ({ who, body }) => addSlot(context, who.account, body));
  mount(slotApi.putSlot, ({ who, params, body }) => changeSlot(context, who.account, params.id, body));
  mount(slotApi.renewSlotLink, ({ who, params }) => renewLink(context, who.account, params.id));
  mount(slotApi.askSlotSender, ({ who, params, body }) => senderOf(context, who.account, params.id, body.address));
  mount(slotApi.putSlotSender, ({ who, params, body }) => setSender(context, who.account, params.id, body));

  mount(slotApi.lookAtSlot, ({ params }) => lookAt(context, params.token));
  mount(slotApi.sendSlotCode, ({ params, body, ip }) => sendCode(context, params.token, body, ip));
  mount(slotApi.beginLeaving, ({ params, body, ip }) => begin(context, params.token, body, ip));
  mount(slotApi.getLeaving, ({ left }) => leaving(context, left));
  mount(slotApi.putLeftPart, ({ left, params, body }) => putPartOf(context, left, params.index, body));
  mount(slotApi.leaveInSlot, ({ left, params, body }) => leave(context, left, params.ticket, body.left));
}
