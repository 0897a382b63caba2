/** Passwords, keys and tokens as they are written down: private keys, tokens by their issuers' prefixes, "password: …". */
import { trimmedEnd } from '../trim-end';
import { type Confidence, type Finding, findingAt, masked } from './finding';
import { type Near } from './near';

interface Form {
  of: string;
  /** A text without any of these has none of it, which is found out sooner than by the pattern. */
  anchor: readonly string[] | ((text: string) => boolean);
  /** What is secret is its group `secret`, where it has one. */
  pattern: RegExp;
  confidence: Confidence;
}

/** What stands before the `_` of tokens that have one. */
const BEFORE_LINE = new Set(['ghp', 'gho', 'ghu', 'ghs', 'ghr', 'pat', 'npm', 'dop']);

/** By the sign that all of them share: looking for each of their beginnings takes ten times as long. */
function hasTokenWithLine(text: string): boolean {
  for (let at = text.indexOf('_'); at !== -1; at = text.indexOf('_', at + 1)) {
    const before = text.slice(Math.max(0, at - 4), at);
    if (BEFORE_LINE.has(before.slice(-3)) || before === 'live' || before.endsWith('hf')) return true;
  }
  return false;
}

const NAMED_SECRET = /(?:accountkey|sharedaccesskey|password|pwd)\s?$/i;

/** By the sign between a name and its value, which is rarer than the letters of the names. */
function hasNamedSecret(text: string): boolean {
  for (let at = text.indexOf('='); at !== -1; at = text.indexOf('=', at + 1))
    if (NAMED_SECRET.test(text.slice(Math.max(0, at - 20), at))) return true;
  return false;
}

const TOKEN_END = '(?![\\w-])';

/** Where a connection leads and who makes it; what it is made with. */
const PLACE = String.raw`(?<![a-z])(?:server|data source|host|user ?id|uid|user|accountname|endpoint|database|initial catalog)\s?=[^;\n=]{1,200};`;
const SECRET = String.raw`(?:accountkey|sharedaccesskey|password|pwd)\s?=\s?(?<secret>[^;\s"']{4,200})`;

/** Forms that say themselves what they are. Anchors are case-sensitive. */
const FORMS: readonly Form[] = [
  {
    of: 'private-key',
    anchor: ['PRIVATE KEY', 'PuTTY-User-Key-File'],
    // RFC 7468, RFC 9580 § 6.2, and the two key files of SSH programs.
    pattern: /-----BEGIN (?:[A-Z0-9]{1,20} ){0,3}PRIVATE KEY(?: BLOCK)?-----|PuTTY-User-Key-File-\d:/g,
    confidence: 'sure',
  },
  {
    of: 'token',
    anchor: ['AKIA', 'ASIA'],
    pattern: new RegExp(`(?<![A-Z0-9])(?:AKIA|ASIA)[A-Z2-7]{16}${TOKEN_END}`, 'g'),
    confidence: 'sure',
  },
  {
    of: 'token',
    anchor: hasTokenWithLine,
    pattern: new RegExp(
      `(?<!\\w)(?:gh[pousr]_[A-Za-z0-9]{36,251}|github_pat_\\w{22,255}|npm_[A-Za-z0-9]{36}|dop_v1_[0-9a-f]{64}|hf_[A-Za-z0-9]{34}|[sr]k_live_[A-Za-z0-9]{16,99})${TOKEN_END}`,
      'g',
    ),
    confidence: 'sure',
  },
  {
    of: 'token',
    anchor: ['xox', 'glpat-', 'pypi-', 'sk-', 'AIza', 'SG.', 'ya29.'],
    pattern: new RegExp(
      `(?<!\\w)(?:xox[abeoprs]-[A-Za-z0-9-]{10,250}|glpat-[\\w-]{20,64}|pypi-[\\w-]{50,255}|sk-(?:[A-Za-z]{2,10}-)?[\\w-]{32,180}|AIza[\\w-]{35}|SG\\.[\\w-]{16,32}\\.[\\w-]{16,64}|ya29\\.[\\w-]{20,250})${TOKEN_END}`,
      'g',
    ),
    confidence: 'sure',
  },
  {
    // RFC 7519: three parts of base64url, the first an object.
    of: 'token',
    anchor: ['.eyJ'],
    pattern: /(?<![\w-])eyJ[\w-]{10,2000}\.eyJ[\w-]{10,4000}\.[\w-]{10,1000}(?![\w-])/g,
    confidence: 'sure',
  },
  {
    // RFC 6750 and RFC 7617, as they stand in a request.
    of: 'token',
    anchor: ['uthorization', 'UTHORIZATION'],
    pattern: /authorization["']?\s{0,3}[:=]\s{0,3}["']?(?:bearer|basic)\s{1,3}(?<secret>[\w+/.~-]{16,2000}={0,2})/gi,
    confidence: 'sure',
  },
  {
    // Pairs of a name and a value, as database drivers and storage services take them.
    of: 'connection',
    anchor: hasNamedSecret,
    pattern: new RegExp(`${PLACE}(?:[^;\\n]{0,200};){0,6}\\s?${SECRET}`, 'gi'),
    confidence: 'sure',
  },
];

/** "password" in the languages of the office's mail, as it is compared: lower case, without accents. */
const SAID = [
  'passwords?',
  'pass',
  'pass ?phrase',
  'passwd',
  'pwd',
  'pw',
  'passcode',
  'login password',
  'wifi password',
  'secret[ _-]?key',
  'api[ _-]?key',
  'access[ _-]?key',
  'client[ _-]?secret',
  'secret',
  'auth[ _-]?token',
  'access[ _-]?token',
  'pin(?: code)?',
  'passwort',
  'kennwort',
  'zugangscode',
  'mot de passe',
  'mdp',
  'contrasena',
  'clave(?: de acceso)?',
  'senha',
  'palavra[ -]passe',
  'parola d.ordine',
  'wachtwoord',
  'haslo',
  'losenord',
  'adgangskode',
  'passord',
].join('|');
const SAYING = new RegExp(
  `(?<![a-z])(?:${SAID})(?: (?:for|fur|pour|para|per|voor|do|zum|zur)(?: [\\w.@-]{1,30}){1,4})?(?: (?:is now|is|ist|lautet|est|es|e|jest|to))?["']?\\s{0,8}[:=\\u2192]{1,2}>?\\s{0,4}["'\\u201c\\u00ab\\u201e\`]?(?<secret>[^\\s"'\\u201d\\u00bb\`<>,;|]{4,80})`,
  'g',
);
const SAID_ANCHOR =
  /pass|pwd|pw\b|secret|key|token|pin\b|kennwort|zugang|mot de|mdp|contrase|clave|senha|palavra|parola|wachtw|has[lł]o|losen|adgang/;

/** What stands there instead of a password: told elsewhere, left out, named for a form. */
const PLACEHOLDER = /^(?:[*•x._-]+$|[[{$%(]|https?:)/i;
const NO_PASSWORD = new Set(
  'null none true false undefined required optional string text hidden password passwort kennwort secret change changed reset expired forgotten see siehe voir follows separate separately per by will wird via the your ihr my not n/a tbd same like ask volgt folgt follows suit segue siguiente podam telefonicznie osobno enviada enviado separado separata comunica communique apart oublie vergessen vergeten olvidada esqueci zapomnialem'.split(
    ' ',
  ),
);
const isNone = (value: string): boolean =>
  PLACEHOLDER.test(value) || NO_PASSWORD.has(trimmedEnd(value, '.!?:)').toLowerCase());

/** A mixture that nobody writes as a word: two kinds of signs at least. */
const looksMade = (value: string): boolean =>
  [/[a-z]/, /[A-Z]/, /\d/, /[^\w\s]/].filter((one) => one.test(value)).length >= 2;

const WHO =
  /\b(?:user(?:name)?|login|benutzer(?:name)?|kennung|utilisateur|identifiant|usuario|utente|gebruiker|uzytkownik|anvandare|bruger)\b/;

/** Before what parts it from its name: the name, whom it is for, a quotation mark and spaces. */
const MOST_SAID = 220; // characters
/** Behind that: the sign once more, spaces, a quotation mark, and itself. */
const MOST_SECRET = 100;
const PARTS = /[:=\u2192]/g;

/**
 * Found by the sign between the two, which is rarer than the words: in the order of the text, none over another. What
 * stands before it has no such sign, so nothing is looked at for two of them.
 */
function* sayings(plain: string): Generator<{ index: number; whole: string; secret: string }> {
  PARTS.lastIndex = 0;
  for (let last = 0, part = PARTS.exec(plain); part !== null; part = PARTS.exec(plain)) {
    const at = part.index;
    let end = at;
    while (end > last && at - end < 8 && /\s/.test(plain[end - 1]!)) end -= 1;
    const before = plain.slice(Math.max(last, end - MOST_SAID), end);
    const line = before.slice(before.lastIndexOf('\n') + 1);
    last = at + 1;
    if (!SAID_ANCHOR.test(line)) continue;
    // With the sign before it: a word is not begun in its middle.
    const begin = Math.max(0, end - line.length - 1);
    SAYING.lastIndex = 0;
    const match = SAYING.exec(plain.slice(begin, at + MOST_SECRET));
    // Behind this sign another may follow, whose secret is cut off here.
    if (match === null || begin + match.index > at) continue;
    const whole = match[0];
    yield { index: begin + match.index, whole, secret: match.groups!['secret']! };
    last = PARTS.lastIndex = begin + match.index + whole.length;
  }
}

function said(text: string, { plain }: Near): Finding[] {
  const found: Finding[] = [];
  for (const { index, whole, secret } of sayings(plain)) {
    const from = index + whole.length - secret.length;
    const value = trimmedEnd(text.slice(from, index + whole.length), '.!?)');
    if (value.length < 4 || isNone(value)) continue;
    const made = looksMade(value);
    // Lists of tests say "PASS:", too; a word for who signs in stands before a password that is called so.
    if (/^pass\W/.test(whole) && !WHO.test(plain.slice(Math.max(0, index - 80), index))) continue;
    // A plain word after "pin:" or "key:" is a sentence going on.
    if (!made && !/pass(?:[a-z]| ?phrase)|pwd|kennwort|mdp|senha|contrasena|wachtwoord|haslo|clave/.test(whole))
      continue;
    const excerpt = `${text.slice(index, from).trim().slice(0, 40)} ${masked(value)}`;
    const what = { kind: 'credential', of: 'password', confidence: made ? 'sure' : 'likely' } as const;
    found.push(findingAt(text, { from, to: from + value.length }, what, excerpt));
  }
  return found;
}

function formed(text: string, { of, anchor, pattern, confidence }: Form): Finding[] {
  if (!(typeof anchor === 'function' ? anchor(text) : anchor.some((one) => text.includes(one)))) return [];
  return [...text.matchAll(pattern)]
    .filter(({ groups }) => groups?.['secret'] === undefined || !isNone(groups['secret']))
    .map(({ index, 0: whole }) =>
      findingAt(
        text,
        { from: index, to: index + whole.length },
        { kind: 'credential', of, confidence },
        // Its first line is no secret.
        of === 'private-key' ? whole : undefined,
      ),
    );
}

/** What everybody signs in with where anybody may. */
const FOR_ANYBODY = /(?:^|:)anon(?:ymous|cvs|svn)?$/i;

/** RFC 3986 § 3.2.1: user and password before the host, found by what follows a scheme. */
function inAddresses(text: string): Finding[] {
  const found: Finding[] = [];
  for (let at = text.indexOf('://'); at !== -1; at = text.indexOf('://', at + 3)) {
    USER_INFO.lastIndex = at + 3;
    const match = USER_INFO.exec(text);
    const scheme =
      match === null ? undefined : /[a-z][a-z0-9+.-]{1,30}$/i.exec(text.slice(Math.max(0, at - 31), at))?.[0];
    const secret = match?.groups!['secret'] ?? '';
    if (match === null || scheme === undefined || isNone(secret) || FOR_ANYBODY.test(secret)) continue;
    const [from, to] = [at - scheme.length, at + 3 + match[0].length];
    found.push(findingAt(text, { from, to }, { kind: 'credential', of: 'connection', confidence: 'sure' }));
  }
  return found;
}
const USER_INFO = /[^\s:@/'"<>]{0,80}:(?<secret>[^\s@/'"<>]{3,120})@[\w[][\w.:[\]-]{0,120}/y;

/** In the order of the text; where two forms see the same place, the one that says more about it. */
export function findCredentials(text: string, near: Near): Finding[] {
  const all = [...FORMS.flatMap((form) => formed(text, form)), ...inAddresses(text), ...said(text, near)].sort(
    (a, b) => a.from - b.from || b.to - a.to,
  );
  return all.filter((one, index) => !all.slice(Math.max(0, index - 4), index).some(({ to }) => to > one.from));
}
