/**
 * Damage by a seed that is another one each time and is said with a failure, so that it comes back: `UNDERLOCK_SEED`.
 * A run of the tests tries a tenth of the inputs; `npm run thorough` tries them all.
 */
import { type Bytes } from '../src/bytes';
import { THOROUGH } from './thorough';

/** A small generator (mulberry32). */
export function generator(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** Octets changed, cut off, put in twice or taken out, lengths made enormous. */
export function mutated(bytes: Uint8Array, random: () => number): Bytes {
  const at = (length: number): number => Math.floor(random() * length);
  const out = bytes.slice() as Bytes;
  switch (at(5)) {
    case 0:
      return out.slice(0, at(out.length));
    case 1: {
      const from = at(out.length);
      return new Uint8Array([...out.slice(0, from), ...out.slice(from, from + at(40)), ...out.slice(from)]);
    }
    case 2: {
      const from = at(out.length);
      return new Uint8Array([...out.slice(0, from), ...out.slice(from + 1 + at(20))]);
    }
    case 3:
      out.set(
        [0x84, 0xff, 0xff, 0xff, 0xff].slice(0, Math.max(1, out.length - 1)),
        Math.min(at(out.length), Math.max(0, out.length - 5)),
      );
      return out;
    default:
      for (let count = 1 + at(4); count > 0; count--) out[at(out.length)] = at(256);
      return out;
  }
}

const SEED = Number(process.env.UNDERLOCK_SEED ?? Date.now() % 2 ** 31);
const SHARE = THOROUGH ? 1 : 0.1;

/** Reads damaged copies, `count` of them where all are tried; anything thrown that is none of `typed` fails. */
export async function readDamaged(
  sound: Uint8Array,
  count: number,
  read: (bytes: Bytes) => unknown,
  typed: readonly (abstract new (...given: never[]) => Error)[],
): Promise<void> {
  const random = generator(SEED);
  for (let index = 0; index < count * SHARE; index++) {
    try {
      await read(mutated(sound, random));
    } catch (error) {
      if (!typed.some((kind) => error instanceof kind))
        throw Object.assign(new Error(`Untyped at ${index}, with UNDERLOCK_SEED=${SEED}: ${String(error)}`), {
          cause: error,
        });
    }
  }
}
