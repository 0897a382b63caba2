/** What rules ask, in words: within a sentence, and the same wherever it is said. */
import { type HandlingTerms, LOOSEST_TERMS, RIGHTS } from '@under-lock/core/handling/handling';
import { LOCKS, type LockName } from '@under-lock/core/locks/index';
import { type Effect } from '@under-lock/core/rules/demand';
import { firstLower } from '@under-lock/core/first-letter';
import { audienceWords, checkWords, listed, rightWords } from '../handling/words';
import { lockWords } from '../locks/lock-words';
import { containerWords } from '../passwords/words';
import { type PasswordSource } from '@under-lock/core/ways/file-way';

/** What terms ask, apart from asking nothing. */
export function termsAsk(terms: HandlingTerms): string[] {
  const off = RIGHTS.filter((right) => !terms.rights[right]).map((right) => rightWords[right]);
  return [
    ...(terms.check === LOOSEST_TERMS.check ? [] : [`${firstLower(checkWords[terms.check])} or stronger`]),
    ...(terms.question ? ['a question besides'] : []),
    ...(off.length === 0 ? [] : [`they may not ${listed(off, 'or')}`]),
    ...(terms.watermark ? ['a watermark over it'] : []),
    ...(terms.copies ? [] : ['no copies of their own']),
    ...(terms.clear ? [] : ['nothing leaves readable']),
    ...(terms.textOpen ? [] : ['the text is locked as well']),
    ...(terms.audience === 'anyone' ? [] : [firstLower(audienceWords[terms.audience])]),
  ];
}

const locksAsk = (locks: readonly LockName[]): string =>
  `only by ${listed(
    LOCKS.filter((lock) => locks.includes(lock)).map((lock) => firstLower(lockWords[lock])),
    'or',
  )}`;

const passwordAsks: Record<PasswordSource, string> = {
  agreed: 'with a password agreed before',
  new: 'with a new password for each message',
};

/** How files are locked, each within a sentence. */
function waysAsk({ container, password }: Extract<Effect, { kind: 'lock-files' }>): string[] {
  const where = container === undefined ? [] : [`in a ${firstLower(containerWords[container])}`];
  const by = password === undefined ? [] : [passwordAsks[password]];
  return [['files are locked', ...where, ...by].join(' ')];
}

/** What one effect asks, each within a sentence. */
export function effectAsks(effect: Effect, presetName: (id: string) => string): string[] {
  switch (effect.kind) {
    case 'handling':
      return termsAsk(effect.terms);
    case 'preset':
      return [`at least “${presetName(effect.presetId)}”`];
    case 'only-locks':
      return [locksAsk(effect.locks)];
    case 'no-copies':
      return ['no copies of their own'];
    case 'lock-files':
      return waysAsk(effect);
    case 'needs':
      return [effect.what === 'reference' ? 'a reference number' : 'a reason'];
    case 'release':
      return ['somebody else releases it'];
    case 'wait':
      return [effect.minutes === 1 ? 'it waits a minute' : `it waits ${effect.minutes} minutes`];
    case 'tell':
      return [`${listed(effect.addresses, 'and')} ${effect.addresses.length === 1 ? 'is' : 'are'} told`];
    case 'stop':
      return ['it does not go'];
    case 'ask':
      return ['a question to whoever sends it'];
    case 'may-leave-open':
      return ['it may leave open'];
    case 'programs-leave-open':
      return ['from mail programs it leaves open, as it was written'];
    case 'programs-lock-files':
      return ['from mail programs its files are locked, and its text stays open'];
  }
}
