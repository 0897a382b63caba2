import { type Choice } from '@under-lock/core/choosing/choice';
import { type ReactNode } from 'react';
import { type Choosing, type ChoosingDoor } from './door';

/** What each form gets: the way in, the way on, and what is said between. */
export interface FormProps {
  choosing: Choosing;
  door: ChoosingDoor;
  officeName: string;
  busy: boolean;
  /** Runs it, and says what goes wrong. What it returns is said as an error. */
  attempt: (act: () => Promise<string | undefined>) => Promise<void>;
  onKeep: (choice: Choice) => Promise<void>;
  /** Beside “Keep this”. */
  error: ReactNode;
}
