/** How somebody gets locked files, from what their person, the password book, the office and the draft say. */
import { defined } from '../../defined';
import { type DraftPassword, entryFor, type PasswordEntry } from '../../passwords/entry';
import { type PasswordPlace } from '../../passwords/place';
import { personAt } from '../../people/find';
import { type Person } from '../../people/kept-person';
import { type Among } from '../known';
import { type KnownFileWay } from '../lock';
import { type FileRules, wayFor } from './rules';
import { type FileWay, type Scope } from '../../ways/file-way';

interface AboutFiles {
  address: string;
  person: Person | undefined;
  scope: Scope | undefined;
  password: DraftPassword | undefined;
  entry: PasswordEntry | undefined;
}

/** How they get locked files, with what is to be said of the password: this message's own, or the one in the book. */
export function fileWayOf(
  { address, person, scope, password, entry }: AboutFiles,
  rules: FileRules,
): {
  way: FileWay;
  largest: number | undefined;
  password: { password: string; guesses: number; told: boolean } | undefined;
} {
  const { way, largest } = wayFor(rules, address, person?.fileWay);
  const agreed =
    entry === undefined || way.eachTime
      ? undefined
      : { password: entry.password, guesses: entry.guesses, told: entry.toldAt !== undefined };
  return { way: scope === undefined ? way : { ...way, scope }, largest, password: password ?? agreed };
}

/** The same for one recipient of a draft. */
export function fileWayIn(
  { settled, people, passwords, fileRules }: Pick<Among, 'settled' | 'people' | 'passwords' | 'fileRules'>,
  address: string,
): ReturnType<typeof fileWayOf> {
  const { scope, password } = settled.find((one) => one.address === address) ?? {};
  return fileWayOf(
    {
      address,
      person: personAt(people, address)?.value,
      scope,
      password,
      entry: entryFor(passwords, address, 'out')?.value,
    },
    fileRules,
  );
}

/** What the plan has to know of it. `standsIn`: where a password stands that is about to be mailed. */
export function knownFileWay(
  about: AboutFiles,
  rules: FileRules,
  standsIn: (password: string) => PasswordPlace | undefined,
): KnownFileWay {
  const { way, largest, password } = fileWayOf(about, rules);
  const place = password === undefined ? undefined : standsIn(password.password);
  return {
    way,
    legacyAllowed: rules.legacyAllowed,
    ...defined({ largest }),
    ...(password === undefined
      ? {}
      : {
          password: {
            weak: password.guesses < rules.leastGuesses,
            told: password.told,
            ...defined({ standsIn: place }),
          },
        }),
  };
}
