/** Errors on the wire: RFC 9457 problem details, with a stable `code` that screens and tests rely on. */
import { z } from 'zod';

export const PROBLEM_CODES = [
  'invalid-input',
  'not-signed-in',
  'not-allowed',
  'not-found',
  'conflict',
  'manifest-behind',
  /** Of the office book, which somebody in it lets in to. */
  'not-member',
  /** The office book has another key than the one something was sealed under. */
  'key-renewed',
  'too-large',
  'too-many-tries',
  'wrong-password',
  'wrong-recovery-code',
  'wrong-link',
  'storage-full',
  'upload-incomplete',
  'grant-closed',
  'grant-withdrawn',
  'passcode-paused',
  'passcode-too-soon',
  'passcode-wrong',
  'passcode-expired',
  'answer-wrong',
  'passcode-stopped',
  'below-preset',
  /** The office's rules are other ones than those that it was planned by. */
  'rules-changed',
  'breaks-rule',
  'right-not-given',
  'audience',
  'reads-already',
  'not-identified',
  'wrong-code',
  'closing-out-of-range',
  'own-number',
  'server-error',
  'unreachable',
  'too-slow',
  'busy',
] as const;
export type ProblemCode = (typeof PROBLEM_CODES)[number];

export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  code: z.enum(PROBLEM_CODES),
  detail: z.string().optional(),
  /** When trying again makes sense, ISO 8601. */
  until: z.iso.datetime().optional(),
  triesLeft: z.number().int().optional(),
});
export type ProblemDetails = z.infer<typeof problemSchema>;

/** What the client throws for every answer that is not a success, and for no answer at all (`unreachable`). */
export class ApiProblem extends Error {
  constructor(readonly details: ProblemDetails) {
    super(details.title);
    this.name = 'ApiProblem';
  }
  get code(): ProblemCode {
    return this.details.code;
  }
}

export const isProblem = (error: unknown, ...codes: ProblemCode[]): error is ApiProblem =>
  error instanceof ApiProblem && (codes.length === 0 || codes.includes(error.code));
