/** How somebody gets locked files, from what their person, the password book, the office and the draft say. */
import { defined } from '../../defined';
import { type DraftPassword, entryFor, type PasswordEntry } from '../../passwords/entry';
import { type PasswordPlace } from '../../passwords/place';
import { personAt } from '../../people/find';
import { type Person } from '../../people/kept-person';
import { type Among } from '../known';
import { type KnownFileWay } from '../lock';
import { type FileRules, wayFor } from './rules';
import { type AllowedWays, type Container, type FileWay, type RuledWay, type Scope } from '../../ways/file-way';

interface AboutFiles {
  address: string;
  person: Person | undefined;
  scope: Scope | undefined;
  password: DraftPassword | undefined;
  entry: PasswordEntry | undefined;
  /** As a rule locks their files, where one does. */
  ruledWay?: RuledWay | undefined;
  /** What rules leave to choose from. */
  allowed: AllowedWays;
}

/** What was wanted for them, or else the first that rules leave. */
const allowedContainer = (wanted: Container, { containers }: AllowedWays): Container =>
  containers.includes(wanted) ? wanted : (containers[0] ?? wanted);

const isAgreedOnly = ({ passwords }: AllowedWays): boolean => !passwords.includes('new');

/** Another container than was chosen for them keeps its own ending. */
function ruled(
  way: FileWay,
  { ruledWay, scope, allowed }: Pick<AboutFiles, 'ruledWay' | 'scope' | 'allowed'>,
): FileWay {
  const { container: wanted = way.container, telling: asked = way.telling } = ruledWay ?? {};
  const telling = isAgreedOnly(allowed) ? 'agreed' : asked;
  const container = allowedContainer(wanted, allowed);
  const { extension, ...rest } = way;
  return {
    ...rest,
    container,
    telling,
    ...defined({ scope: scope ?? way.scope, extension: container === way.container ? extension : undefined }),
  };
}

/** How they get locked files, with what is to be said of the password: this message's own, or the one in the book. */
export function fileWayOf(
  { address, person, scope, password, entry, ruledWay, allowed }: AboutFiles,
  rules: FileRules,
): {
  way: FileWay;
  password: { password: string; guesses: number; told: boolean } | undefined;
  /** What is locked already goes along as it is. */
  lockedStay: boolean;
} {
  const way = wayFor(rules, address, person?.fileWay);
  const eachTime = !isAgreedOnly(allowed) && (way.eachTime || !allowed.passwords.includes('agreed'));
  const agreed =
    entry === undefined || eachTime
      ? undefined
      : { password: entry.password, guesses: entry.guesses, told: entry.toldAt !== undefined };
  return {
    way: { ...ruled(way, { ruledWay, scope, allowed }), eachTime },
    password: password ?? agreed,
    lockedStay: ruledWay?.lockedStay ?? false,
  };
}

/** The same for one recipient of a draft. */
export function fileWayIn(
  {
    settled,
    people,
    passwords,
    fileRules,
    allowedWays,
  }: Pick<Among, 'settled' | 'people' | 'passwords' | 'fileRules' | 'allowedWays'>,
  address: string,
): ReturnType<typeof fileWayOf> {
  const { scope, password, ruledWay } = settled.find((one) => one.address === address) ?? {};
  return fileWayOf(
    {
      address,
      person: personAt(people, address)?.value,
      scope,
      password,
      ruledWay,
      allowed: allowedWays,
      entry: entryFor(passwords, address, 'out')?.value,
    },
    fileRules,
  );
}

const underRules = (allowed: AllowedWays): Pick<KnownFileWay, 'barred' | 'agreedOnly'> => ({
  ...(allowed.containers.length === 0 || allowed.passwords.length === 0 ? { barred: true } : {}),
  ...(isAgreedOnly(allowed) ? { agreedOnly: true } : {}),
});

/** What the plan has to know of it. `standsIn`: where a password stands that is about to be mailed. */
export function knownFileWay(
  about: AboutFiles,
  rules: FileRules,
  standsIn: (password: string) => PasswordPlace | undefined,
): KnownFileWay {
  const { way, password } = fileWayOf(about, rules);
  const place = password === undefined ? undefined : standsIn(password.password);
  return {
    way,
    legacyAllowed: rules.legacyAllowed,
    ...underRules(about.allowed),
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
