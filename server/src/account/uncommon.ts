/**
 * A server that never sees a password can still hold the most common ones against it: stretched with the new password's
 * own salt, each gives the proof that it would have sent. Two dozen, because each costs what a sign-in costs a browser;
 * the long list is the browser's.
 */
import { hashRaw } from '@node-rs/argon2';
import { timingSafeEqual } from 'node:crypto';
import { TRIED_FIRST } from '@under-lock/core/account/common-passwords';
import { authKeyOf, type PasswordHashing, RECOMMENDED_HASHING } from '@under-lock/core/account/password';
import { type Bytes } from '@under-lock/core/bytes';
import { invalid } from '../problem';

/** Argon2id, as the library numbers it. */
const ARGON2ID = 2;

async function proofOf(
  password: string,
  { salt, memoryKiB, iterations, parallelism }: PasswordHashing,
): Promise<Bytes> {
  const stretched = await hashRaw(password.normalize('NFKC'), {
    algorithm: ARGON2ID,
    salt: Buffer.from(salt),
    memoryCost: memoryKiB,
    timeCost: iterations,
    parallelism,
    outputLen: 32,
  });
  return authKeyOf(new Uint8Array(stretched) as Bytes);
}

/** One password after another, whoever else is choosing one: nobody's choice takes the machine. */
let turn: Promise<unknown> = Promise.resolve();

/**
 * @throws Problem `invalid-input` for one of the most common passwords, and for a hashing that is not the one we ask
 * for
 */
export async function requireUncommon(
  { hashing, authKey }: { hashing: PasswordHashing; authKey: Uint8Array },
  most: number,
): Promise<void> {
  const { memoryKiB, iterations, parallelism } = RECOMMENDED_HASHING;
  if (
    hashing.memoryKiB !== memoryKiB ||
    hashing.iterations !== iterations ||
    hashing.parallelism !== parallelism ||
    hashing.salt.length < 16
  )
    throw invalid('The password hashing is not the one this office asks for.');
  const mine = turn.then(async () => {
    for (const password of TRIED_FIRST.slice(0, most)) {
      if (timingSafeEqual(await proofOf(password, hashing), authKey))
        throw invalid('Many people have this password, so it is among the first to be tried. Choose another one.');
    }
  });
  turn = mine.catch(() => undefined);
  await mine;
}
