/** Judges OpenPGP keys by whose word the office takes; that is asked for once in a few minutes. */
import { getKeyTrust } from '@under-lock/contract/openpgp';
import { openPgpKeysIn } from '@under-lock/core/openpgp/in-file';
import { type OpenPgpKey } from '@under-lock/core/openpgp/key';
import { judgeKey, type KeyQuestion, type OpenPgpVerdict } from '@under-lock/core/openpgp/verdict';
import { client } from '../../opened/vault';

const FRESH_MS = 5 * 60_000;
let trusted: { keys: Promise<OpenPgpKey[]>; at: number } | undefined;

async function fetched(): Promise<OpenPgpKey[]> {
  const { keys } = await client(getKeyTrust);
  return (await Promise.all(keys.map(({ key }) => openPgpKeysIn(key)))).flat();
}

function trustedKeys(now: Date): Promise<OpenPgpKey[]> {
  if (trusted === undefined || now.getTime() - trusted.at > FRESH_MS) {
    trusted = { keys: fetched(), at: now.getTime() };
    trusted.keys.catch(() => (trusted = undefined));
  }
  return trusted.keys;
}

export const forgetTrusted = (): void => void (trusted = undefined);

export async function judgeKeys(
  questions: readonly Omit<KeyQuestion, 'trusted' | 'now'>[],
  now: Date,
): Promise<OpenPgpVerdict[]> {
  if (questions.length === 0) return [];
  const keys = await trustedKeys(now);
  return Promise.all(questions.map((one) => judgeKey({ ...one, now, trusted: keys })));
}
