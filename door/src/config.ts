/** Everything that can be set from outside, read once from the environment. README names each variable. */
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { z } from 'zod';

const port = z.coerce.number().int().min(0).max(65_535);
const environment = z.object({
  /** Where the office's server is reached. */
  UNDERLOCK_SUBMISSION_SERVER: z.url().default('http://127.0.0.1:8420'),
  /** 32 random octets as base64url: whoever has it is this door. */
  UNDERLOCK_SUBMISSION_SECRET: z.string().regex(/^[\w-]{43}$/, '32 bytes as base64url'),
  UNDERLOCK_SUBMISSION_LISTEN: z.string().default('127.0.0.1'),
  /** The name that mail programs are to type, and that the certificate is for. */
  UNDERLOCK_SUBMISSION_HOST: z.string().default('localhost'),
  /** With STARTTLS (RFC 6409). */
  UNDERLOCK_SUBMISSION_PORT: port.default(8587),
  /** With TLS from the beginning (RFC 8314). */
  UNDERLOCK_SUBMISSION_TLS_PORT: port.default(8465),
  /** PEM files. */
  UNDERLOCK_SUBMISSION_CERTIFICATE: z.string().min(1),
  UNDERLOCK_SUBMISSION_KEY: z.string().min(1),
  /** The built program of the threads that deal with mail. */
  UNDERLOCK_SUBMISSION_THREAD_FILE: z.string().default('dist/dealing.mjs'),
});

export interface Config {
  server: string;
  secret: Uint8Array<ArrayBuffer>;
  listen: string;
  host: string;
  startTls: number;
  tls: number;
  cert: Buffer;
  key: Buffer;
  /** What deals with mail, built. */
  threadFile: string;
}

/** @throws Error that names each variable that is wrong */
export function readConfig(env: Record<string, string | undefined>): Config {
  const parsed = environment.safeParse(env);
  if (!parsed.success)
    throw new Error(
      `Settings are wrong:\n${parsed.error.issues.map((issue) => `  ${issue.path.join('.')}: ${issue.message}`).join('\n')}`,
    );
  const set = parsed.data;
  return {
    server: new URL(set.UNDERLOCK_SUBMISSION_SERVER).origin,
    secret: new Uint8Array(Buffer.from(set.UNDERLOCK_SUBMISSION_SECRET, 'base64url')),
    listen: set.UNDERLOCK_SUBMISSION_LISTEN,
    host: set.UNDERLOCK_SUBMISSION_HOST,
    startTls: set.UNDERLOCK_SUBMISSION_PORT,
    tls: set.UNDERLOCK_SUBMISSION_TLS_PORT,
    cert: readFileSync(set.UNDERLOCK_SUBMISSION_CERTIFICATE),
    key: readFileSync(set.UNDERLOCK_SUBMISSION_KEY),
    threadFile: resolve(set.UNDERLOCK_SUBMISSION_THREAD_FILE),
  };
}
