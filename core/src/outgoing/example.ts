/** An example that a rule is tried on, as facts: made up by an administrator, and judged like a draft. */
import { addressKey } from '../people/address';
import { type Facts } from '../rules/facts';
import { type Example, type Policy } from '../rules/policy';
import { LOOSEST_TERMS } from '../handling/handling';
import { contentFacts, type Looked } from './looked';
import { isStaffAddress } from './ruled';
import { type Known } from './known';

/** The number under which an example's file is looked into. */
export const EXAMPLE_FILE = 'file';

export function exampleFacts(
  { to, subject, text, as, isNew, hasNoLock, presetId, file }: Example,
  looked: Looked,
  policy: Policy,
  {
    office,
    colleagues,
    account,
  }: Pick<Known, 'office' | 'colleagues' | 'account'> & {
    account: { departments: readonly string[] };
  },
): Facts {
  const written = {
    subject,
    text,
    files:
      file === undefined
        ? []
        : [
            {
              blobId: EXAMPLE_FILE,
              name: file.name,
              type: '',
              size: Math.floor((file.base64.length * 3) / 4),
              key: { key: '', salt: '' },
            },
          ],
    // What it answers was under lock, so that rules on that can be tried.
    ...(as === 'new' ? {} : { inReplyTo: 'an example', answered: LOOSEST_TERMS }),
    ...(as === 'forward' ? { passedOnUntil: 'then' } : {}),
  };
  return {
    ...contentFacts(written, looked, policy),
    sender: { address: addressKey(account.address), departments: account.departments },
    recipients: to.map((address) => ({
      address: addressKey(address),
      isStaff: isStaffAddress(address, { office, colleagues }),
      isNew,
      hasNoLock,
    })),
    presetId,
    headers: {},
  };
}
