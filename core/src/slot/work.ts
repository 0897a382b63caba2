/**
 * Proof of work, as Hashcash has it (A. Back, “Hashcash: a denial of service counter-measure”, 2002): for each of
 * several puzzles a number so that SHA-256 of (SHA-256 of the challenge, puzzle, number) begins with so many zero bits. Several small
 * puzzles take about the same time at every try; one large one may take ten times as long as another.
 */
import { sha256 } from '@noble/hashes/sha2.js';
import { type Bytes, concat } from '../bytes';

export interface Puzzles {
  /** 16 to 200 octets. */
  challenge: Bytes;
  /** How many. */
  rounds: number;
  /** Zero bits each: at most 24. */
  bits: number;
}

/** 65,536 hashes on the average, 16,384 more or less: well under two seconds on a telephone of some years ago. */
export const SLOT_PUZZLES = { rounds: 16, bits: 12 } as const;

const NUMBER_BYTES = 4;
const HIGHEST = 2 ** 32 - 1;

function solves(block: Bytes, bits: number): boolean {
  const digest = sha256(block);
  return new DataView(digest.buffer, digest.byteOffset).getUint32(0) >>> (32 - bits) === 0;
}

function blockOf({ challenge }: Puzzles, round: number): { block: Bytes; put: (number: number) => void } {
  // Always 37 octets: one block of the hash.
  const start = sha256(challenge) as Bytes;
  const block = concat(start, Uint8Array.of(round), new Uint8Array(NUMBER_BYTES));
  const view = new DataView(block.buffer, start.length + 1);
  return { block, put: (number) => view.setUint32(0, number) };
}

/** Four octets a puzzle. Takes its time: for a thread. */
export function solve(puzzles: Puzzles): Bytes {
  const solution = new Uint8Array(puzzles.rounds * NUMBER_BYTES);
  const view = new DataView(solution.buffer);
  for (let round = 0; round < puzzles.rounds; round++) {
    const { block, put } = blockOf(puzzles, round);
    let number = 0;
    for (put(0); !solves(block, puzzles.bits); put(number)) {
      if (number === HIGHEST) throw new Error('This puzzle has no solution');
      number++;
    }
    view.setUint32(round * NUMBER_BYTES, number);
  }
  return solution;
}

export function isSolved(puzzles: Puzzles, solution: Uint8Array): boolean {
  if (solution.length !== puzzles.rounds * NUMBER_BYTES) return false;
  const view = new DataView(solution.buffer, solution.byteOffset);
  for (let round = 0; round < puzzles.rounds; round++) {
    const { block, put } = blockOf(puzzles, round);
    put(view.getUint32(round * NUMBER_BYTES));
    if (!solves(block, puzzles.bits)) return false;
  }
  return true;
}
