import { type MessageContent } from '../../message/content';
import { type ZipFile } from '../../zip/write';

export interface OpenedContainer {
  /** It asked for no password. */
  open: boolean;
  /** The message, where one of the files is one. */
  message: { kind: 'mail'; content: MessageContent } | { kind: 'page'; html: string } | undefined;
  /** Everything else, by names safe to show and to save. */
  files: ZipFile[];
  /** Of a PDF: the octets that opened it, one a character, as its viewer takes them. */
  viewerPassword?: string;
}
