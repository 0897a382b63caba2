/**
 * A shared question and its answer. The question is sealed under a key from the reader's share, so that only who
 * holds the link can read it;
 * the answer becomes a proof that needs the share too (HKDF, RFC 5869), so that a copied database can't be used to
 * guess it.
 */
import { type Bytes, fromUtf8, utf8 } from '../bytes';
import { hkdf, seal, sealingKey, unseal } from '../sealing';

export const MAX_QUESTION = 200;
export const MAX_ANSWER = 100;
/** Shorter answers are guessed within the tries there are. */
export const MIN_ANSWER = 3;

/** Case, spaces, accents and punctuation don't count: "St. Mary’s" is "st marys". */
export const normaliseAnswer = (answer: string): string =>
  answer
    .slice(0, MAX_ANSWER)
    .normalize('NFKD')
    .replace(/[^\p{L}\p{N}]/gu, '')
    .toLowerCase();

const questionKey = async (readerShare: Bytes): Promise<CryptoKey> =>
  sealingKey(await hkdf(readerShare, 'under-lock/room/question/v1', 32));
const questionContext = (grantId: string): string => `under-lock/room/question/v1/${grantId}`;

export const sealQuestion = async (question: string, readerShare: Bytes, grantId: string): Promise<Bytes> =>
  seal(await questionKey(readerShare), utf8(question), questionContext(grantId));
/** @throws SealError */
export const openQuestion = async (sealed: Uint8Array, readerShare: Bytes, grantId: string): Promise<string> =>
  fromUtf8(await unseal(await questionKey(readerShare), sealed, questionContext(grantId)));

/** 16 bytes that prove the answer to the server and tell it nothing. */
export const answerProof = (answer: string, readerShare: Bytes): Promise<Bytes> =>
  hkdf(readerShare, 'under-lock/room/answer/v1', 16, utf8(normaliseAnswer(answer)));

export type AnswerProblem = 'too-short';
export type AnswerLeak = 'question' | 'message' | 'name';

export const answerProblem = (answer: string): AnswerProblem | undefined =>
  normaliseAnswer(answer).length < MIN_ANSWER ? 'too-short' : undefined;

/**
 * Where the answer stands for everybody to see: in the question itself, in what is sent, in the reader's own name or
 * address.
 */
export function answerLeaks(answer: string, around: { question: string; message: string; name: string }): AnswerLeak[] {
  const wanted = normaliseAnswer(answer);
  if (wanted.length < MIN_ANSWER) return [];
  // Word by word: `MAX_ANSWER` is for answers, not for texts.
  const holds = (text: string): boolean =>
    text
      .normalize('NFKD')
      .replace(/[^\p{L}\p{N}]/gu, '')
      .toLowerCase()
      .includes(wanted);
  return (['question', 'message', 'name'] as const).filter((place) => holds(around[place]));
}
