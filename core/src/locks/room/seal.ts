import { type Bytes } from '../../bytes';
import { buildMessage } from '../../message/build';
import { type MessageContent } from '../../message/content';
import { type ContentKey, sealContent } from './content';

/** The one content that all who read it come to. A key seals one content and no other. */
export const sealForRoom = (message: MessageContent, key: ContentKey): Promise<Bytes> =>
  sealContent(buildMessage(message), key);
