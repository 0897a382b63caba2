/** How somebody gets locked files: everything about it but the password. */
import { z } from 'zod';
import { PASSWORD_KINDS } from './password-kind';
import { ZIP_CIPHERS } from '../zip/cipher';

/** `page`: one HTML file that opens itself in a browser. */
export const CONTAINERS = ['zip', 'pdf', 'page'] as const;
export type Container = (typeof CONTAINERS)[number];

/** `files`: the text stays as readable as any mail. */
export const SCOPES = ['everything', 'files'] as const;
export type Scope = (typeof SCOPES)[number];

/** What the message is inside a ZIP. */
export const MESSAGE_FORMS = ['html', 'pdf', 'eml'] as const;
export type MessageForm = (typeof MESSAGE_FORMS)[number];

export const NAMINGS = ['fixed', 'date', 'random', 'reference'] as const;
export type Naming = (typeof NAMINGS)[number];

/** How the password reaches them: never in the mail. */
export const TELLINGS = ['phone', 'text', 'agreed'] as const;
export type Telling = (typeof TELLINGS)[number];

/** What can end a file’s name at all, without its dot. */
export const isEnding = (text: string): boolean => /^[a-z0-9_]{1,8}$/.test(text);

/** What no gateway and no desk takes for a paper, because it runs. */
const RUNS = new Set([
  'exe',
  'com',
  'bat',
  'cmd',
  'scr',
  'pif',
  'msi',
  'msp',
  'ps1',
  'vbs',
  'vbe',
  'js',
  'jse',
  'wsf',
  'wsh',
  'hta',
  'jar',
  'app',
  'sh',
  'lnk',
  'reg',
  'cpl',
  'dll',
  'sys',
  'apk',
  'iso',
  'img',
  'chm',
  'scf',
  'url',
]);
export const isExtension = (text: string): boolean => isEnding(text) && !RUNS.has(text);

export const fileWaySchema = z.object({
  container: z.enum(CONTAINERS),
  cipher: z.enum(ZIP_CIPHERS),
  scope: z.enum(SCOPES),
  form: z.enum(MESSAGE_FORMS),
  naming: z.enum(NAMINGS),
  /** The name when it is always the same, without its ending. */
  fixedName: z.string().max(60).default(''),
  /** Names of files can be read without the password, unless they are packed once more inside. */
  hideNames: z.boolean(),
  /** Another ending than the container's own, for gateways that refuse that. */
  extension: z.string().refine(isExtension).optional(),
  passwords: z.enum(PASSWORD_KINDS),
  /** A new password for each message. */
  eachTime: z.boolean(),
  /** The password is kept in the book. */
  remember: z.boolean(),
  telling: z.enum(TELLINGS),
});
export type FileWay = z.infer<typeof fileWaySchema>;

/** Where a locked file's password comes from: they have it already, or it is new with this message. */
export const PASSWORD_SOURCES = ['agreed', 'new'] as const;
export type PasswordSource = (typeof PASSWORD_SOURCES)[number];

/** What rules leave to choose from. */
export interface AllowedWays {
  containers: readonly Container[];
  passwords: readonly PasswordSource[];
}
/** Without them. */
export const ALL_WAYS: AllowedWays = { containers: CONTAINERS, passwords: PASSWORD_SOURCES };

/** What a rule says of how files are locked: the rest is as it was. */
export const ruledWaySchema = z.object({
  container: z.enum(CONTAINERS).optional(),
  telling: z.enum(TELLINGS).optional(),
  /** What is locked already goes along as it is. */
  lockedStay: z.boolean(),
});
export type RuledWay = z.infer<typeof ruledWaySchema>;

export const USUAL_WAY: FileWay = {
  container: 'zip',
  cipher: 'aes-256',
  scope: 'everything',
  form: 'html',
  naming: 'date',
  fixedName: '',
  hideNames: false,
  passwords: 'words',
  eachTime: false,
  remember: true,
  telling: 'phone',
};

export const OWN_EXTENSION: Record<Container, string> = { zip: 'zip', pdf: 'pdf', page: 'html' };
export const MEDIA_TYPE: Record<Container, string> = {
  zip: 'application/zip',
  pdf: 'application/pdf',
  page: 'text/html',
};
