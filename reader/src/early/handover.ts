/** What passes from the early page to the reading page: they come in different scripts and share the window. */

export type Press = 'open' | 'not-mine' | 'other-way';

export interface Begun {
  /** A passcode has been asked for, and the answer is not known here. */
  asking: boolean;
  /** ISO 8601. */
  resendAt?: string;
  typed: string;
  answer: string;
  /** What the early page could not do by itself. */
  press?: Press;
}

export interface EarlyPage {
  /** What the server has been asked already, each answer once; undefined where it has not. */
  answered(method: string, target: string): Promise<Response> | undefined;
  /** From now on nothing is done here any more; undefined when that was so already. */
  end(): Begun | undefined;
  /** The label of a button that was pressed since the end, or that a finger lies on now. */
  unheard(): { label: string; isDown: boolean } | undefined;
}

declare global {
  interface Window {
    underLockEarly?: EarlyPage;
  }
}
