/**
 * What the office says about locked files: its usual way, exceptions by person and domain, how strong passwords must
 * be, and the note in its own words.
 */
import { defined } from '../../defined';
import { z } from 'zod';
import { addressKey, checkAddress, hostOf } from '../../people/address';
import { GUESSES } from '../../passwords/minimum';
import { ZIP_CIPHERS } from '../../zip/cipher';
import { coverProblem, coverTemplatesSchema } from './cover-rules';
import {
  CONTAINERS,
  type FileWay,
  fileWaySchema,
  isEnding,
  isExtension,
  MESSAGE_FORMS,
  USUAL_WAY,
} from '../../ways/file-way';
import { LANGUAGES } from '../../language';

export const fileExceptionSchema = z.object({
  /** An address, or a domain with everybody in it. */
  whom: z.string().max(254),
  container: z.enum(CONTAINERS).optional(),
  cipher: z.enum(ZIP_CIPHERS).optional(),
  form: z.enum(MESSAGE_FORMS).optional(),
  extension: z.string().refine(isExtension).optional(),
  /** Octets of files that their gateway takes. */
  largest: z.number().int().min(100_000).max(1_000_000_000).optional(),
});
export type FileException = z.infer<typeof fileExceptionSchema>;

export const fileRulesSchema = z.object({
  usual: fileWaySchema,
  legacyAllowed: z.boolean(),
  /** Logarithm to base 10 of the guesses a password must stand. */
  leastGuesses: z.number().min(GUESSES.least).max(GUESSES.most),
  exceptions: z.array(fileExceptionSchema).max(200),
  /**
   * File types that are packed without compression, besides those that never get smaller. Endings without their dot.
   */
  storedTypes: z.array(z.string().max(20)).max(50).default([]),
  templates: coverTemplatesSchema,
});
export type FileRules = z.infer<typeof fileRulesSchema>;

export const OUR_RULES: FileRules = {
  usual: USUAL_WAY,
  legacyAllowed: false,
  leastGuesses: GUESSES.usual,
  exceptions: [],
  storedTypes: [],
  templates: {},
};

export type FileRulesProblem =
  | { code: 'template'; language: string; problem: string }
  | { code: 'exception'; whom: string }
  | { code: 'exception-twice'; whom: string }
  | { code: 'legacy-not-allowed' }
  | { code: 'stored-type'; type: string };

const DOMAIN = /^(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z0-9-]{2,63}$/;
/** In the spelling it is compared by; undefined for what is neither an address nor a domain. */
export function exceptionKey(whom: string): string | undefined {
  const text = whom.trim().toLowerCase();
  if (!text.includes('@')) return DOMAIN.test(text) ? text : undefined;
  const checked = checkAddress(text);
  return checked.ok ? addressKey(checked.address) : undefined;
}

/** The first thing wrong with them, or undefined. */
export function fileRulesProblem({
  usual,
  legacyAllowed,
  exceptions,
  storedTypes,
  templates,
}: FileRules): FileRulesProblem | undefined {
  const noType = storedTypes.find((type) => !isEnding(type));
  if (noType !== undefined) return { code: 'stored-type', type: noType };
  if (!legacyAllowed && [usual, ...exceptions].some(({ cipher }) => cipher === 'legacy'))
    return { code: 'legacy-not-allowed' };
  const keys = new Set<string>();
  for (const { whom } of exceptions) {
    const key = exceptionKey(whom);
    if (key === undefined) return { code: 'exception', whom };
    if (keys.has(key)) return { code: 'exception-twice', whom };
    keys.add(key);
  }
  for (const language of LANGUAGES) {
    const text = templates[language];
    const problem = text === undefined ? undefined : coverProblem(text);
    if (problem !== undefined) return { code: 'template', language, problem: problem.code };
  }
  return undefined;
}

/** Plans ask for every recipient at every key press; rules don't change, they are replaced. */
const keyed = new WeakMap<FileRules, ReadonlyMap<string | undefined, FileException>>();

function byKey(rules: FileRules): ReadonlyMap<string | undefined, FileException> {
  const known = keyed.get(rules) ?? new Map(rules.exceptions.map((one) => [exceptionKey(one.whom), one]));
  keyed.set(rules, known);
  return known;
}

/** What is said of an address, before what is said of its domain; or what is said of a whole domain. */
export function exceptionFor(rules: FileRules, whom: string): Partial<FileException> {
  const key = addressKey(whom);
  const exceptions = byKey(rules);
  return { ...exceptions.get(hostOf(key)), ...exceptions.get(key) };
}

/** Whether anything is said in it. */
export const isSaid = ({ whom: _, ...said }: FileException): boolean =>
  Object.values(said).some((value) => value !== undefined);

/** The rules with this in the place of what was said of the same address or domain. */
export function withException(rules: FileRules, exception: FileException): FileRules {
  const key = exceptionKey(exception.whom);
  const at = rules.exceptions.findIndex(({ whom }) => exceptionKey(whom) === key);
  const before = at === -1 ? rules.exceptions : rules.exceptions.slice(0, at);
  const after = at === -1 ? [] : rules.exceptions.slice(at + 1);
  return { ...rules, exceptions: [...before, ...(isSaid(exception) ? [exception] : []), ...after] };
}

/** How somebody gets locked files: what was chosen for them, else the office's usual way with its exceptions. */
export function wayFor(rules: FileRules, address: string, chosen: FileWay | undefined): FileWay {
  if (chosen !== undefined) return chosen;
  const { extension: _, ...usual } = rules.usual;
  const {
    container = usual.container,
    cipher = usual.cipher,
    form = usual.form,
    extension = rules.usual.extension,
  } = exceptionFor(rules, address);
  return { ...usual, container, cipher, form, ...defined({ extension }) };
}

/** Octets of files that their mail gateway takes; undefined where nothing is said of it. */
export const largestFor = (rules: FileRules, address: string): number | undefined =>
  exceptionFor(rules, address).largest;
