/** Conditions on who writes and to whom. One recipient of whom it is so is enough. */
import { z } from 'zod';
import { hostOf } from '../../people/address';
import { type RecipientFacts } from '../facts';
import { defineCondition, either, isSubset, never } from './kind';

const address = z.string().trim().toLowerCase().min(3).max(254);
const domain = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^(?=.{3,253}$)[a-z0-9-]{1,63}(?:\.[a-z0-9-]{1,63}){1,8}$/);

const isUnder = (host: string, above: string): boolean => host === above || host.endsWith(`.${above}`);

const IS: Record<'staff' | 'outsider' | 'new' | 'without-lock', (recipient: RecipientFacts) => boolean> = {
  staff: ({ isStaff }) => isStaff,
  outsider: ({ isStaff }) => !isStaff,
  new: ({ isNew }) => isNew,
  'without-lock': ({ hasNoLock }) => hasNoLock,
};
const isWords = {
  staff: 'a colleague',
  outsider: 'somebody outside',
  new: 'somebody who was never written to before',
  'without-lock': 'somebody without any lock of their own',
} as const;

export const recipientIs = defineCondition({
  schema: z.object({ kind: z.literal('recipient-is'), is: z.enum(['staff', 'outsider', 'new', 'without-lock']) }),
  has: ({ is }, { recipients }) => recipients.some(IS[is]),
  implies: (one, other) => one.is === other.is,
  // Some are colleagues and some are not: both may be so.
  disjoint: never,
  describe: ({ is }) => `it goes to ${isWords[is]}`,
});

export const recipientAt = defineCondition({
  schema: z.object({ kind: z.literal('recipient-at'), domains: z.array(domain).min(1).max(200) }),
  has: ({ domains }, { recipients }) =>
    recipients.some((one) => domains.some((each) => isUnder(hostOf(one.address), each))),
  implies: (one, other) => one.domains.every((each) => other.domains.some((above) => isUnder(each, above))),
  disjoint: never,
  describe: ({ domains }) => `it goes to somebody at ${either(domains)}`,
});

export const recipientAmong = defineCondition({
  schema: z.object({ kind: z.literal('recipient-among'), addresses: z.array(address).min(1).max(500) }),
  has: ({ addresses }, { recipients }) => recipients.some((one) => addresses.includes(one.address)),
  implies: (one, other) => isSubset(one.addresses, other.addresses),
  disjoint: never,
  describe: ({ addresses }) => `it goes to ${either(addresses)}`,
});

export const recipientCount = defineCondition({
  schema: z.object({
    kind: z.literal('recipient-count'),
    of: z.enum(['all', 'outsiders']),
    least: z.number().int().min(1).max(10_000),
  }),
  has: ({ of, least }, { recipients }) => recipients.filter(({ isStaff }) => of === 'all' || !isStaff).length >= least,
  // So many outsiders are at least so many recipients.
  implies: (one, other) => one.least >= other.least && (one.of === other.of || other.of === 'all'),
  disjoint: never,
  describe: ({ of, least }) => `it goes to ${least} ${of === 'all' ? 'people' : 'people outside'} or more`,
});

export const senderIs = defineCondition({
  schema: z
    .object({
      kind: z.literal('sender-is'),
      addresses: z.array(address).max(500),
      departments: z.array(z.string().trim().min(1).max(80)).max(100),
    })
    .refine(
      ({ addresses, departments }) => addresses.length + departments.length > 0,
      'Name a sender or a department.',
    ),
  has: ({ addresses, departments }, { sender }) =>
    addresses.includes(sender.address) || sender.departments.some((each) => departments.includes(each)),
  implies: (one, other) => isSubset(one.addresses, other.addresses) && isSubset(one.departments, other.departments),
  // A department may hold anybody; two lists of people with nobody in common hold no sender both.
  disjoint: (one, other) =>
    one.departments.length + other.departments.length === 0 &&
    !one.addresses.some((each) => other.addresses.includes(each)),
  describe: ({ addresses, departments }) =>
    `${either([...departments.map((one) => `“${one}”`), ...addresses])} sends it`,
});
