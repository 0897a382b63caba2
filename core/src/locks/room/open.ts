import { type MessageContent } from '../../message/content';
import { readMessage } from '../../message/read';
import { type OpeningMeans } from '../lock';
import { openContent } from './content';

/** @throws ContentError, MessageReadError */
export const openFromRoom = async ({ content, key }: OpeningMeans): Promise<MessageContent> =>
  readMessage(await openContent(content, key));
