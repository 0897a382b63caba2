/** Everything that can be set from outside, read once from the environment. docs and README name each variable. */
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { defined } from '@under-lock/core/defined';
import { type NextHop } from './mail/smtp';
import { z } from 'zod';

export const ROLES = ['web', 'mail', 'jobs'] as const;

const environment = z.object({
  UNDERLOCK_HOST: z.string().default('127.0.0.1'),
  UNDERLOCK_PORT: z.coerce.number().int().min(0).max(65_535).default(8420),
  /** The user whose rights the server keeps once its doors are open, when root starts it. */
  UNDERLOCK_USER: z
    .string()
    .regex(/^[a-z_][a-z0-9_-]*$/)
    .optional(),
  /** What people type in the address bar; notices link to the room under it. */
  UNDERLOCK_ORIGIN: z.url().optional(),
  /** Where the reading room is served when that is another host. */
  UNDERLOCK_ROOM_ORIGIN: z.url().optional(),
  DATABASE_URL: z.string().min(1),
  /**
   * `no` where another role prepares the database (`npm run prepare-database`): then the server changes rows and no
   * tables.
   */
  UNDERLOCK_MIGRATE: z.enum(['yes', 'no']).default('yes'),
  /** 32 bytes as base64url, kept outside the database. */
  UNDERLOCK_SECRET: z.string().regex(/^[\w-]{43}$/, '32 bytes as base64url'),
  /** Secrets that were in force before, separated by commas, until everything is under the new one. */
  UNDERLOCK_OLD_SECRETS: z
    .string()
    .regex(/^[\w-]{43}(?:,[\w-]{43})*$/, '32 bytes as base64url, separated by commas')
    .optional(),
  /**
   * How many of the most common passwords the server itself holds against a new one; each costs a tenth of a second,
   * once.
   */
  UNDERLOCK_COMMON_PASSWORDS: z.coerce.number().int().min(0).max(24).default(24),
  /** What this process does, separated by commas: `web`, `mail` (what comes in by SMTP), `jobs`. */
  UNDERLOCK_ROLES: z
    .string()
    .default(ROLES.join())
    .transform((text) => text.split(',').map((one) => one.trim()))
    .pipe(z.array(z.enum(ROLES)).min(1)),
  /** The next host on the way out: the office's relay. */
  UNDERLOCK_SMTP_URL: z.url().default('smtp://127.0.0.1:8425'),
  /** Whether mail waits where that host offers no TLS, or a wrong certificate; `required` but on this machine. */
  UNDERLOCK_SMTP_TLS: z.enum(['required', 'if-offered']).optional(),
  /** A PEM file of the authorities that host is known by. */
  UNDERLOCK_SMTP_CA: z.string().min(1).optional(),
  /** Where mail for our addresses and delivery reports come in; 0 turns the door off. */
  UNDERLOCK_MAIL_PORT: z.coerce.number().int().min(0).max(65_535).default(8426),
  /** Whom to ask about the senders of mail, as `address:port`; as this machine does otherwise. */
  UNDERLOCK_DNS: z
    .string()
    .regex(/^[\d.]+(:\d+)?$|^\[[\da-f:]+\](:\d+)?$/i, 'an IP address, with a port or without')
    .optional(),
  /** Certificate and key (PEM files) of the mail host, with which STARTTLS is offered. */
  UNDERLOCK_MAIL_CERTIFICATE: z.string().min(1).optional(),
  UNDERLOCK_MAIL_KEY: z.string().min(1).optional(),
  /** The word by which the door for mail programs is known; without it, there is none. */
  UNDERLOCK_SUBMISSION_TOKEN: z
    .string()
    .regex(/^[\w-]{43}$/, '32 bytes as base64url')
    .optional(),
  UNDERLOCK_TEXT_URL: z.url().default('http://127.0.0.1:8421/texts'),
  UNDERLOCK_CALL_URL: z.url().default('http://127.0.0.1:8421/calls'),
  UNDERLOCK_TEXT_TOKEN: z.string().optional(),
  /** Set when the simulated outside world runs beside us. */
  UNDERLOCK_OUTSIDE_URL: z.url().optional(),
  /** Where the office's certificate authority and the directory answer. */
  UNDERLOCK_AUTHORITY_URL: z.url().default('http://authority.larkmoor.example'),
  /** The directory of OpenPGP keys (HKP) that is asked when a person's own domain has none. */
  UNDERLOCK_KEYS_URL: z.url().default('http://keys.islestrust.example'),
  UNDERLOCK_DIRECTORY_URL: z.url().default('http://directory.islestrust.example'),
  /** The program of the threads that parse what strangers sent. */
  UNDERLOCK_THREAD_FILE: z.string().default('dist/reading.mjs'),
  /** Bearer tokens for the doors that ask for one. */
  UNDERLOCK_AUTHORITY_TOKEN: z.string().min(1).optional(),
  UNDERLOCK_DIRECTORY_TOKEN: z.string().min(1).optional(),
  UNDERLOCK_KEYS_TOKEN: z.string().min(1).optional(),
  /** PEM files: the client certificate and key we show to these doors, and the authorities we know them by. */
  UNDERLOCK_DOOR_CERTIFICATE: z.string().min(1).optional(),
  UNDERLOCK_DOOR_KEY: z.string().min(1).optional(),
  UNDERLOCK_DOOR_CA: z.string().min(1).optional(),
  /** The proxy through which addresses are asked that strangers named. */
  UNDERLOCK_FETCH_PROXY: z.url().optional(),
  /** The office's own directory, `ldaps://` or `ldap://` with StartTLS, and where in it people lie. */
  UNDERLOCK_LDAP_URL: z
    .string()
    .regex(/^ldaps?:\/\/[^/\s]+$/, 'ldaps://host or ldap://host')
    .optional(),
  UNDERLOCK_LDAP_BASE: z.string().min(1).optional(),
  /** Who asks it; without, nobody in particular does. An empty password would be nobody, too (RFC 4513, 5.1.2). */
  UNDERLOCK_LDAP_USER: z.string().min(1).optional(),
  UNDERLOCK_LDAP_PASSWORD: z.string().min(1).optional(),
  /** A PEM file of the authorities it is known by. */
  UNDERLOCK_LDAP_CA: z.string().min(1).optional(),
  /** How long it is waited for. */
  UNDERLOCK_LDAP_SECONDS: z.coerce.number().int().min(1).max(300).default(30),
  UNDERLOCK_APP_DIR: z.string().default('app/dist'),
  UNDERLOCK_READER_DIR: z.string().default('reader/dist'),
  UNDERLOCK_MAX_MB: z.coerce.number().int().min(1).max(100).default(25),
  /** What one person's vault may hold: drafts, people, keys, what was sent. */
  UNDERLOCK_VAULT_MB: z.coerce.number().int().min(10).max(100_000).default(500),
  UNDERLOCK_MAX_DAYS: z.coerce.number().int().min(1).max(3660).default(366),
  UNDERLOCK_ZONE: z.string().default('Europe/Lisbon'),
  UNDERLOCK_DAY_ENDS: z
    .string()
    .regex(/^\d\d:\d\d$/)
    .default('17:00'),
  UNDERLOCK_WEEK_ENDS_ON: z.coerce.number().int().min(1).max(7).default(5),
  UNDERLOCK_UNOPENED_DAYS: z.coerce.number().int().min(1).default(3),
  UNDERLOCK_UNDO_SECONDS: z.coerce.number().int().min(0).max(600).default(10),
  UNDERLOCK_PURGE_DAYS: z.coerce.number().int().min(0).default(30),
  /** Passcodes by text or call that one phone gets in a day without waiting. */
  UNDERLOCK_CODES_A_DAY: z.coerce.number().int().min(1).default(12),
  /** For how many days a backup of the database is kept; statements say it. */
  UNDERLOCK_BACKUP_DAYS: z.coerce.number().int().min(0).max(3660).default(35),
  /** A file outside of the database and its backups, in which endings are put down. */
  UNDERLOCK_JOURNAL: z.string().min(1).optional(),
  UNDERLOCK_OFFICE: z.string().default('Larkmoor Ferries'),
  UNDERLOCK_MAIL_DOMAIN: z.string().default('larkmoor.example'),
  /**
   * How many proxies of ours stand before the server: the last so many entries of X-Forwarded-For are theirs, and
   * whoever is named before them asks.
   */
  UNDERLOCK_PROXIES: z.coerce.number().int().min(0).max(10).default(0),
});

const trimmedOrigin = (url: string | undefined): string | undefined =>
  url === undefined ? undefined : new URL(url).origin;

export type Config = ReturnType<typeof readConfig>;

type Environment = z.infer<typeof environment>;

const isThisMachine = (host: string): boolean => /^(?:localhost|127\.[\d.]+|\[::1\])$/.test(host);

const nextHopOf = ({
  UNDERLOCK_SMTP_URL: url,
  UNDERLOCK_SMTP_TLS: tls = isThisMachine(new URL(url).hostname) ? 'if-offered' : 'required',
  UNDERLOCK_SMTP_CA: ca,
}: Environment): NextHop => ({ url, tlsRequired: tls === 'required', ca });

const fileIn = (path: string | undefined): Buffer | undefined => (path === undefined ? undefined : readFileSync(path));

/** @throws Error when only half of it is set */
function ldapOf({
  UNDERLOCK_LDAP_URL: url,
  UNDERLOCK_LDAP_BASE: base,
  UNDERLOCK_LDAP_USER: name,
  UNDERLOCK_LDAP_PASSWORD: password,
  UNDERLOCK_LDAP_CA: ca,
  UNDERLOCK_LDAP_SECONDS: seconds,
}: Environment) {
  if (url === undefined) return undefined;
  if (base === undefined) throw new Error('Settings are wrong:\n  UNDERLOCK_LDAP_BASE: where in it people lie');
  if ((name === undefined) !== (password === undefined))
    throw new Error('Settings are wrong:\n  UNDERLOCK_LDAP_USER and UNDERLOCK_LDAP_PASSWORD: both or neither');
  return {
    url,
    base,
    user: name === undefined || password === undefined ? undefined : { name, password },
    ca: fileIn(ca),
    seconds,
  };
}

/** Where the office's own services answer, and how we show who we are. */
const servicesOf = (set: Environment) => ({
  textUrl: set.UNDERLOCK_TEXT_URL,
  callUrl: set.UNDERLOCK_CALL_URL,
  textToken: set.UNDERLOCK_TEXT_TOKEN,
  outsideUrl: set.UNDERLOCK_OUTSIDE_URL,
  authorityUrl: set.UNDERLOCK_AUTHORITY_URL,
  keysUrl: set.UNDERLOCK_KEYS_URL,
  directoryUrl: set.UNDERLOCK_DIRECTORY_URL,
  ldap: ldapOf(set),
  doorTokens: {
    authority: set.UNDERLOCK_AUTHORITY_TOKEN,
    directory: set.UNDERLOCK_DIRECTORY_TOKEN,
    keys: set.UNDERLOCK_KEYS_TOKEN,
  },
  doorTls: defined({
    cert: fileIn(set.UNDERLOCK_DOOR_CERTIFICATE),
    key: fileIn(set.UNDERLOCK_DOOR_KEY),
    ca: fileIn(set.UNDERLOCK_DOOR_CA),
  }),
  fetchProxy: set.UNDERLOCK_FETCH_PROXY,
});

/** Mail on its way out and in. */
const mailOf = (set: Environment) => ({
  smtp: nextHopOf(set),
  mailPort: set.UNDERLOCK_MAIL_PORT,
  dns: set.UNDERLOCK_DNS,
  mailCertificate: set.UNDERLOCK_MAIL_CERTIFICATE,
  mailKey: set.UNDERLOCK_MAIL_KEY,
  submissionToken: set.UNDERLOCK_SUBMISSION_TOKEN,
});

const officeOf = (set: Environment) => ({
  name: set.UNDERLOCK_OFFICE,
  mailDomain: set.UNDERLOCK_MAIL_DOMAIN,
  calendar: {
    zone: set.UNDERLOCK_ZONE,
    dayEnds: set.UNDERLOCK_DAY_ENDS,
    weekEndsOn: set.UNDERLOCK_WEEK_ENDS_ON,
    maxDays: set.UNDERLOCK_MAX_DAYS,
  },
  limits: { maxBytes: set.UNDERLOCK_MAX_MB * 1_000_000, maxRecipients: 200 },
  vaultBytes: set.UNDERLOCK_VAULT_MB * 1_000_000,
  undoSeconds: set.UNDERLOCK_UNDO_SECONDS,
  codesADay: set.UNDERLOCK_CODES_A_DAY,
  backupDays: set.UNDERLOCK_BACKUP_DAYS,
  unopenedAfterDays: set.UNDERLOCK_UNOPENED_DAYS,
  purgeAfterDays: set.UNDERLOCK_PURGE_DAYS,
});

const secretsOf = ({ UNDERLOCK_SECRET: secret, UNDERLOCK_OLD_SECRETS: before = '' }: Environment) => ({
  secret: Buffer.from(secret, 'base64url'),
  oldSecrets: before
    .split(',')
    .filter((one) => one !== '')
    .map((one) => Buffer.from(one, 'base64url')),
});

/** @throws Error that names each variable that is wrong. */
export function readConfig(env: Record<string, string | undefined>) {
  const parsed = environment.safeParse(env);
  if (!parsed.success) {
    throw new Error(
      `Settings are wrong:\n${parsed.error.issues.map((issue) => `  ${issue.path.join('.')}: ${issue.message}`).join('\n')}`,
    );
  }
  const set = parsed.data;
  const origin = trimmedOrigin(set.UNDERLOCK_ORIGIN) ?? `http://127.0.0.1:${set.UNDERLOCK_PORT}`;
  return {
    host: set.UNDERLOCK_HOST,
    port: set.UNDERLOCK_PORT,
    user: set.UNDERLOCK_USER,
    origin,
    roomOrigin: trimmedOrigin(set.UNDERLOCK_ROOM_ORIGIN) ?? origin,
    /** Nobody said where it is reached: on this machine, by the port it gets. */
    isLocal: set.UNDERLOCK_ORIGIN === undefined,
    databaseUrl: set.DATABASE_URL,
    migrates: set.UNDERLOCK_MIGRATE === 'yes',
    ...secretsOf(set),
    commonPasswords: set.UNDERLOCK_COMMON_PASSWORDS,
    roles: set.UNDERLOCK_ROLES,
    ...mailOf(set),
    ...servicesOf(set),
    journal: set.UNDERLOCK_JOURNAL === undefined ? undefined : resolve(set.UNDERLOCK_JOURNAL),
    threadFile: resolve(set.UNDERLOCK_THREAD_FILE),
    appDir: set.UNDERLOCK_APP_DIR,
    readerDir: set.UNDERLOCK_READER_DIR,
    proxies: set.UNDERLOCK_PROXIES,
    office: officeOf(set),
  };
}
