/**
 * A statement of what ended (who could read a message, until when, whether they had, and that the office’s server can’t
 * give out the means to open it any more) or of a delivery (who was told, how they were known, who opened it and
 * confirmed that). Made by the
 * office's server from its records, signed as a JSON Web Signature (RFC 7515, compact serialisation, ES256 of RFC
 * 7518 §3.4), so that any JOSE
 * library checks it. The file carries the readable statement beside its signature; a check compares the two.
 */
import { type Bytes, fromBase64Url, fromUtf8, sha256, toBase64Url, utf8 } from '../bytes';
import {
  type AnyStatement,
  DELIVERY_FORMAT,
  OLDER_STATEMENT_FORMAT,
  STATEMENT_FORMAT,
  type StatementFile,
  type StatementKey,
} from './format';

const MAX_FILE = 4_000_000;

/** The key's SHA-256 thumbprint (RFC 7638), hex: what an auditor compares. */
export async function thumbprint({ crv, kty, x, y }: StatementKey): Promise<string> {
  const digest = await sha256(utf8(JSON.stringify({ crv, kty, x, y })));
  return [...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** In groups of four, as people compare them. */
export const inGroups = (hex: string): string => hex.match(/.{1,4}/g)!.join(' ');

/** Signs with `sign`, which gives the 64 octets r ‖ s of ES256. */
export async function signStatement(
  statement: AnyStatement,
  keyId: string,
  sign: (bytes: Bytes) => Promise<Uint8Array>,
): Promise<string> {
  const head = `${toBase64Url(utf8(JSON.stringify({ alg: 'ES256', kid: keyId, typ: 'statement+jws' })))}.${toBase64Url(utf8(JSON.stringify(statement)))}`;
  return `${head}.${toBase64Url(await sign(utf8(head)))}`;
}

export const statementFile = (file: StatementFile<AnyStatement>): Bytes => utf8(`${JSON.stringify(file, null, 2)}\n`);

export type CheckFailure = 'not-a-statement' | 'signature' | 'altered' | 'too-large';
export type CheckResult =
  { ok: true; statement: AnyStatement; keyThumbprint: string } | { ok: false; failure: CheckFailure };

const failed = (failure: CheckFailure): CheckResult => ({ ok: false, failure });

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isCoordinate = (value: unknown): value is string => {
  try {
    return typeof value === 'string' && fromBase64Url(value).length === 32;
  } catch {
    return false;
  }
};
const isKey = (value: unknown): value is StatementKey =>
  isRecord(value) && value.kty === 'EC' && value.crv === 'P-256' && isCoordinate(value.x) && isCoordinate(value.y);
const FORMATS: readonly unknown[] = [STATEMENT_FORMAT, OLDER_STATEMENT_FORMAT, DELIVERY_FORMAT];
const isStatement = (value: unknown): value is AnyStatement =>
  isRecord(value) &&
  FORMATS.includes(value.format) &&
  isRecord(value.message) &&
  isRecord(value.office) &&
  (value.format === DELIVERY_FORMAT
    ? Array.isArray(value.accesses) && Array.isArray(value.copies)
    : Array.isArray(value.ended));

/** The file inside a PDF lies there as it is: its attachment is stored uncompressed. */
function fileIn(bytes: Uint8Array): unknown {
  if (bytes[0] !== 0x25) return JSON.parse(fromUtf8(bytes));
  const text = new TextDecoder('latin1').decode(bytes);
  const from = Math.max(
    ...FORMATS.map((format) => text.indexOf(`{\n  "statement": {\n    "format": "${String(format)}"`)),
  );
  const to = text.indexOf('\n}\n', from);
  if (from < 0 || to < 0) throw new SyntaxError('no statement in this PDF');
  return JSON.parse(fromUtf8(bytes.subarray(from, to + 3)));
}

/** JSON with its keys in order: two objects that say the same are spelled the same. */
function ordered(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(ordered).join(',')}]`;
  if (!isRecord(value)) return JSON.stringify(value);
  return `{${Object.keys(value)
    .sort()
    .map((key) => `${JSON.stringify(key)}:${ordered(value[key])}`)
    .join(',')}}`;
}

/**
 * Checks a statement's file, or a PDF that carries it, with nothing but the file. What is returned is what was
 * signed. Whether the key is the
 * office's is for whoever checks to compare.
 */
export async function checkStatement(bytes: Uint8Array): Promise<CheckResult> {
  if (bytes.length > MAX_FILE) return failed('too-large');
  let parsed: unknown;
  try {
    parsed = fileIn(bytes);
  } catch {
    return failed('not-a-statement');
  }
  if (!isRecord(parsed) || !isKey(parsed.key) || typeof parsed.jws !== 'string') return failed('not-a-statement');
  const { jws, key, statement: shown } = parsed;
  const [head = '', payload = '', signature = '', ...more] = jws.split('.');
  if (more.length > 0) return failed('not-a-statement');
  try {
    const header = JSON.parse(fromUtf8(fromBase64Url(head))) as unknown;
    if (!isRecord(header) || header.alg !== 'ES256') return failed('signature');
    const { kty, crv, x, y } = key;
    const { subtle } = globalThis.crypto;
    const imported = await subtle.importKey('jwk', { kty, crv, x, y }, { name: 'ECDSA', namedCurve: 'P-256' }, false, [
      'verify',
    ]);
    if (
      !(await subtle.verify(
        { name: 'ECDSA', hash: 'SHA-256' },
        imported,
        fromBase64Url(signature),
        utf8(`${head}.${payload}`),
      ))
    )
      return failed('signature');
    const signed = JSON.parse(fromUtf8(fromBase64Url(payload))) as unknown;
    if (!isStatement(signed)) return failed('not-a-statement');
    if (ordered(signed) !== ordered(shown)) return failed('altered');
    return { ok: true, statement: signed, keyThumbprint: await thumbprint(key) };
  } catch {
    return failed('signature');
  }
}
