import { type ProblemCode, type ProblemDetails } from '@under-lock/contract/problem';

/** What a feature throws when it must refuse; http/ turns it into RFC 9457 problem details. */
export class Problem extends Error {
  constructor(
    readonly code: ProblemCode,
    readonly status: number,
    title: string,
    readonly data: Partial<Pick<ProblemDetails, 'detail' | 'until' | 'triesLeft'>> = {},
  ) {
    super(title);
    this.name = 'Problem';
  }
}

export const notFound = (what: string): Problem => new Problem('not-found', 404, `${what} was not found`);
export const busy = (): Problem => new Problem('busy', 503, 'The server has too much to do just now');
export const invalid = (detail: string): Problem =>
  new Problem('invalid-input', 400, 'Something in the request is not right', { detail });
