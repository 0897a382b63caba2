/**
 * The server's slow hash of what a browser sends as proof of its password. What is hashed is already 256 bits out of
 * Argon2id, so the second
 * hash only has to make a stolen table useless: Argon2id, 19 MiB, 2 passes (OWASP Password Storage Cheat Sheet).
 */
import { hash, verify } from '@node-rs/argon2';

const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

// As text: the library's verify refuses bytes that are not UTF-8.
const spelled = (authKey: Uint8Array): string => Buffer.from(authKey).toString('base64url');

export const hashProof = (authKey: Uint8Array): Promise<string> => hash(spelled(authKey), COST);

// Verified against when there is no account, so that the answer takes as long.
let nobody: Promise<string> | undefined;

export async function proofMatches(stored: string | null | undefined, authKey: Uint8Array): Promise<boolean> {
  const against = stored ?? (await (nobody ??= hashProof(new Uint8Array(32))));
  return (await verify(against, spelled(authKey))) && stored !== null && stored !== undefined;
}
