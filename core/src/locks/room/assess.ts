import { addressHint } from '../../people/address-hint';
import { addressKey } from '../../people/address';
import { phoneHint } from '../../people/phone-hint';
import { type Assessment, type AssessmentContext, type Missing, type Recipient, type WantedHandling, type Warning } from '../lock';

function assessPhone({ phone, address }: Recipient, { sender, others }: AssessmentContext): { missing: Missing[]; warnings: Warning[] } {
  if (phone === undefined) return { missing: [{ code: 'phone-missing' }], warnings: [] };
  if (sender.phones.includes(phone)) return { missing: [{ code: 'phone-is-yours' }], warnings: [] };
  const owner = others.find((other) => other.phone === phone && addressKey(other.address) !== addressKey(address));
  return { missing: [], warnings: owner === undefined ? [] : [{ code: 'phone-of-another', name: owner.name || owner.address }] };
}

function assessSecondAddress({ secondAddress, address }: Recipient, { sender, others }: AssessmentContext): { missing: Missing[]; warnings: Warning[] } {
  if (secondAddress === undefined) return { missing: [{ code: 'second-address-missing' }], warnings: [] };
  const key = addressKey(secondAddress);
  if (key === addressKey(address)) return { missing: [{ code: 'second-address-is-the-same' }], warnings: [] };
  if ([sender.address, ...sender.addresses].some((own) => addressKey(own) === key)) return { missing: [{ code: 'second-address-is-yours' }], warnings: [] };
  const owner = others.find(
    (other) => addressKey(other.address) !== addressKey(address) && [other.address, other.secondAddress ?? ''].some((one) => addressKey(one) === key),
  );
  return { missing: [], warnings: owner === undefined ? [] : [{ code: 'second-address-of-another', name: owner.name || owner.address }] };
}

/** The room can be used for anybody with a mailbox, once there is a second way to reach them for the passcode. */
export function assessRoom(recipient: Recipient, handling: WantedHandling, context: AssessmentContext): Assessment {
  const kind = recipient.check ?? handling.check;
  const { missing, warnings } = kind === 'text' ? assessPhone(recipient, context) : assessSecondAddress(recipient, context);
  const hint = kind === 'text' ? (recipient.phone ? phoneHint(recipient.phone) : '') : recipient.secondAddress ? addressHint(recipient.secondAddress) : '';
  return {
    lock: 'room',
    check: { kind, hint },
    missing,
    warnings,
    reasons: [{ code: 'nothing-needed-at-their-end' }, { code: 'can-be-closed-and-withdrawn' }],
    cannotHonour: [],
  };
}
