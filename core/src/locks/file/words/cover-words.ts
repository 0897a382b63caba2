import { type Container, type Telling } from '../../../ways/file-way';

/** What the note around a locked file says, in one language. */
export interface CoverWords {
  /** Our template, with the places an office's own has. */
  template: string;
  /** In the place of `{recipient}` when there is no name. */
  nobody: string;
  password: Record<Telling, (sender: string) => string>;
  open: Record<Container, string>;
  /** Before the rest of `open` when the name has another ending than usual. */
  rename(from: string, to: string): string;
  /** The text message with the password. */
  text(sender: string, office: string, password: string): string;
  /** For what is packed and not locked. */
  packed: string;
  /** Names in the container's own text. */
  from: string;
  to: string;
  cc: string;
  date: string;
  subject: string;
  reference: string;
  files: string;
  /** What the message is called inside. */
  messageName: string;
}
