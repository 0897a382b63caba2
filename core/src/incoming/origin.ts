/**
 * Whether the domain that a mail names as its sender's says that it sent it: what SPF (RFC 7208), DKIM (RFC 6376) and
 * DMARC (RFC 7489) come to, in one word and with what it rests on.
 */
import { z } from 'zod';
import { hostOf } from '../people/address';

/** An answer of any of them, in the words of RFC 8601 §2.7. */
const result = z.string().max(20);
const domain = z.string().max(253);
export const MOST_SIGNATURES = 5;

export const originSchema = z.object({
  /**
   * `vouched`: the domain says that it sent this. `nobody`: it says nothing either way. `contradicted`: it says that its
   * mail comes otherwise. `unasked`: its word could not be had when the mail came.
   */
  is: z.enum(['vouched', 'nobody', 'contradicted', 'unasked']),
  /** Of the address that the mail says it is from. */
  domain,
  /** Who it came from by its envelope, and whether that domain lets this host send. */
  spf: z.object({ result, domain }).optional(),
  /** Who signed it. */
  dkim: z.array(z.object({ result, domain })).max(MOST_SIGNATURES),
  /** What the domain asks to be done with what fails. */
  dmarc: z.object({ result, policy: z.string().max(20) }).optional(),
  /** What hosts on the way said that they had seen (RFC 8617). */
  arc: result.optional(),
});
export type Origin = z.infer<typeof originSchema>;

export type Found = Omit<Origin, 'is'> & {
  /** It names several senders, or none that can be read. */
  isUnclear: boolean;
};

/** The same, or a part of it: `mail.firm.example` signs for `firm.example`. */
const isOf = (one: string, other: string): boolean =>
  one !== '' && other !== '' && (one === other || one.endsWith(`.${other}`) || other.endsWith(`.${one}`));

const isForNow = (said: string | undefined): boolean => said === 'temperror';

function wordOf({ isUnclear, domain: named, spf, dkim, dmarc }: Found): Origin['is'] {
  if (isUnclear) return 'contradicted';
  // The domain has said by what it wants to be judged: nothing else counts then.
  if (dmarc?.result === 'pass') return 'vouched';
  const own = dkim.filter((one) => isOf(one.domain, named));
  const envelope = spf !== undefined && isOf(spf.domain, named) ? spf.result : undefined;
  if ([dmarc?.result, envelope, ...own.map((one) => one.result)].some(isForNow)) return 'unasked';
  if (dmarc?.result === 'fail') return 'contradicted';
  if (envelope === 'pass' || own.some((one) => one.result === 'pass')) return 'vouched';
  return envelope === 'fail' || envelope === 'softfail' ? 'contradicted' : 'nobody';
}

export const originOf = (found: Found): Origin => {
  const { isUnclear: _, ...shown } = found;
  return { is: wordOf(found), ...shown };
};

/** Where it came from instead, as far as anything says that. */
const elsewhere = ({ domain: named, spf, dkim }: Origin): string | undefined =>
  [
    ...dkim.filter((one) => one.result === 'pass').map((one) => one.domain),
    ...(spf?.result === 'pass' ? [spf.domain] : []),
  ].find((one) => !isOf(one, named));

/** Whether that is the domain of this address: what is sealed inside a mail may name another than its head. */
export const isFrom = ({ domain: named }: Origin, address: string): boolean => hostOf(address).toLowerCase() === named;

/** For whoever reads it, beside the sender. */
export function originSentence(origin: Origin): string {
  const { is, domain: named } = origin;
  if (named === '') return 'It does not say whom it is from in a way that could be asked about.';
  switch (is) {
    case 'vouched':
      return `${named} says that it sent this.`;
    case 'nobody':
      return `Nobody vouches for this address: ${named} does not say which mail is its own.`;
    case 'contradicted':
      return `The address says ${named}, the mail came from ${elsewhere(origin) ?? 'elsewhere'}. ${named} does not say that it sent this.`;
    case 'unasked':
      return `Whether ${named} sent this could not be asked when it came.`;
  }
}

/** What it rests on, one line each, for whoever wants to know. */
export function originDetails({ spf, dkim, dmarc, arc }: Origin): string[] {
  return [
    ...(spf === undefined ? [] : [`SPF: ${spf.result}${spf.domain === '' ? '' : `, for ${spf.domain}`}`]),
    ...(dkim.length === 0 ? ['DKIM: no signature'] : dkim.map((one) => `DKIM: ${one.result}, by ${one.domain}`)),
    `DMARC: ${dmarc === undefined ? 'none' : `${dmarc.result}${dmarc.policy === '' ? '' : `, policy ${dmarc.policy}`}`}`,
    ...(arc === undefined || arc === 'none' ? [] : [`ARC: ${arc}`]),
  ];
}
