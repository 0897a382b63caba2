import { type MessageContent } from '../../message/content';
import { readMessage } from '../../message/read';
import { type Bytes } from '../../bytes';
import { openContent } from './content';

/** @throws ContentError, MessageReadError */
export const openFromRoom = async ({ content, key }: { content: Uint8Array; key: Bytes }): Promise<MessageContent> =>
  readMessage(await openContent(content, key));
