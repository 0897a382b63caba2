/** A choice on its way into the office book: what a person becomes by it, and what has to be looked at first. */
import { defined } from '../defined';
import { type IdentityCheck } from '../handling/handling';
import { type Language } from '../language';
import { type BookPerson, type Unchanged } from './person';
import { addressKey, type Correspondent } from '../people/address';
import { withInUse } from '../people/in-use';
import { type Chose } from '../ways/chose';
import { USUAL_WAY } from '../ways/file-way';
import { type Choice } from '../choosing/choice';

export interface Chooser extends Correspondent {
  language?: Language;
  at: Date;
  check: IdentityCheck;
}

/** Whether it brings another certificate or key than the office has: somebody has to compare it first. */
export function needsLooking(book: Pick<BookPerson, 'certificates' | 'keys'> | undefined, choice: Choice): boolean {
  if (choice.way === 'certificate') {
    const known = book?.certificates?.[0];
    return known !== undefined && known.certificate !== choice.certificate;
  }
  if (choice.way === 'openpgp') {
    const known = book?.keys?.[0];
    return known !== undefined && known.fingerprint !== choice.fingerprint;
  }
  return false;
}

function means(known: Partial<Unchanged>, choice: Choice, at: string): Partial<Unchanged> {
  switch (choice.way) {
    case 'none':
    case 'room':
      return {};
    case 'file':
      return {
        fileWay: { ...(known.fileWay ?? USUAL_WAY), container: choice.container, eachTime: false, telling: 'agreed' },
        password: { password: choice.password, guesses: choice.guesses, since: at, toldAt: at },
      };
    case 'certificate': {
      const { certificate, chain, notAfter } = choice;
      if (known.certificates?.[0]?.certificate === certificate) return {};
      const next = { certificate, chain, addedAt: at, from: 'choice' as const, notAfter };
      return { certificates: withInUse(known.certificates, next, at) };
    }
    case 'openpgp': {
      const { key, fingerprint, keyIds, notAfter } = choice;
      if (known.keys?.[0]?.fingerprint === fingerprint) return {};
      const next = { key, fingerprint, keyIds, addedAt: at, from: 'choice' as const, ...defined({ notAfter }) };
      return { keys: withInUse(known.keys, next, at) };
    }
  }
}

const wishOf = ({ way }: Choice, at: string, check: IdentityCheck): Chose | undefined =>
  way === 'none' ? undefined : { lock: way, at, check };

/**
 * The person with what they chose; what the office knows of them otherwise stays. Another certificate or key than is
 * known lies beside, `offered`, until somebody has compared it.
 */
export function withChoice(book: BookPerson | undefined, { at, check, ...who }: Chooser, choice: Choice): Unchanged {
  const { changes: _, offered: __, ...known } = book ?? { changes: [] };
  const since = at.toISOString();
  const person = { name: who.name, address: addressKey(who.address), ...defined({ language: who.language }), ...known };
  if (needsLooking(book, choice)) return { ...person, offered: { choice, at: since, check } };
  return {
    ...person,
    ...means(known, choice, since),
    chose: wishOf(choice, since, check),
  };
}

/** Compared with them by `by`: what they offered is theirs, and is what they chose. */
export function withOffered({ changes: _, offered, ...known }: BookPerson, by: string, now: Date): Unchanged {
  if (offered === undefined) return known;
  const { choice, at, check } = offered;
  const taken = { ...known, ...means(known, choice, at) };
  const checked = { at: now.toISOString(), by };
  const marked = <One extends object>([first, ...others]: readonly One[]): One[] => [{ ...first!, checked }, ...others];
  return {
    ...taken,
    ...(choice.way === 'certificate' ? { certificates: marked(taken.certificates!) } : {}),
    ...(choice.way === 'openpgp' ? { keys: marked(taken.keys!) } : {}),
    chose: wishOf(choice, at, check),
  };
}
