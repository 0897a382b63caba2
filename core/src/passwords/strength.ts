/**
 * How hard a password is to guess, by a well-known estimator. Its word lists are large: load this where somebody types
 * a password, and nowhere else.
 */
import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import * as common from '@zxcvbn-ts/language-common';
import * as english from '@zxcvbn-ts/language-en';

let estimator: ZxcvbnFactory | undefined;

/** Longer ones are judged by their beginning: the estimator's time grows with the square. */
const JUDGED = 50;

/**
 * How many guesses it stands, as their logarithm to base 10; rounded down to tenths.
 * @param known What whoever guesses would try first: names and addresses of the two who share it.
 */
export function guessesOf(password: string, known: readonly string[]): number {
  estimator ??= new ZxcvbnFactory({
    dictionary: { ...common.dictionary, ...english.dictionary },
    graphs: common.adjacencyGraphs,
  });
  return Math.floor(estimator.check(password.normalize('NFC').slice(0, JUDGED), [...known]).guessesLog10 * 10) / 10;
}
