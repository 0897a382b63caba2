/** Where a passcode goes and what is asked, checked again where it can't be talked out of it. */
import { type Channel } from '@under-lock/contract/outgoing';
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { addressHint } from '@under-lock/core/people/address-hint';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { checkPhone } from '@under-lock/core/people/phone';
import { phoneHint } from '@under-lock/core/people/phone-hint';
import { isCostly } from '../phone/costly';
import { type Context } from '../context';
import { type AccountRow } from '../data/models';
import { invalid, Problem } from '../problem';
import { channelContext, keptAnswer, keptTold } from './grants';

/** @throws Problem `invalid-input`, `own-number` */
function requireTarget(
  address: string,
  channel: Extract<Channel, { target: string }>,
  sender: AccountRow,
): { target: string; hint: string } {
  if (channel.kind !== 'email') {
    const phone = checkPhone(channel.target, 'GB');
    if (!phone.ok || phone.e164 !== channel.target)
      throw invalid(`The phone number for ${address} is not an international number.`);
    if (isCostly(phone.e164))
      throw invalid(
        `The phone number for ${address} is a premium, shared-cost or satellite number; codes are not sent there.`,
      );
    if (phone.e164 === sender.phone)
      throw new Problem('own-number', 400, 'The passcode would go to the sender’s own phone');
    return { target: phone.e164, hint: phoneHint(phone.e164) };
  }
  const second = checkAddress(channel.target);
  if (!second.ok) throw invalid(`The second address for ${address} is not an address.`);
  if ([address, sender.address].some((one) => addressKey(one) === addressKey(second.address)))
    throw invalid(`The second address for ${address} must be another one than the first and not the sender’s.`);
  return { target: second.address, hint: addressHint(second.address) };
}

/** What a grant keeps of how its reader is known. */
export interface KeptChannel {
  checkKind: IdentityCheck;
  checkHint: string;
  channel: Buffer | null;
  question: Buffer | null;
  answerHash: Buffer | null;
  /** Of the one-time password that is told, until it was used. */
  toldHash: Buffer | null;
}

/** @throws Problem `invalid-input`, `own-number` */
export async function keptChannel(
  context: Context,
  grantId: string,
  address: string,
  channel: Channel,
  sender: AccountRow,
): Promise<KeptChannel> {
  const way = 'target' in channel ? requireTarget(address, channel, sender) : undefined;
  return {
    checkKind: channel.kind,
    checkHint: way?.hint ?? '',
    channel: way === undefined ? null : await context.secrets.sealText(way.target, channelContext(grantId)),
    question: channel.question === undefined ? null : Buffer.from(channel.question.sealed),
    answerHash:
      channel.question === undefined ? null : await keptAnswer(context, grantId, channel.question.answerProof),
    toldHash: channel.kind === 'told' ? await keptTold(context, grantId, channel.toldProof) : null,
  };
}
