import { type Bytes, concat, type Flow, type Pieces } from '../../bytes';
import { messageInPieces } from '../../message/build';
import { type MessageContent } from '../../message/content';
import { type ContentKey, sealAsItGoes, sealInPieces } from './content';

/** The one content that all who read it come to, as it is put: part by part. A key seals one content and no other. */
export const sealForRoomInPieces = (message: MessageContent, key: ContentKey): Promise<Pieces> =>
  sealInPieces(messageInPieces(message), key);

/** The same, sealed while it is taken. */
export const sealForRoomAsItGoes = (message: MessageContent, key: ContentKey): Flow =>
  sealAsItGoes(messageInPieces(message), key);

/** In one piece. */
export const sealForRoom = async (message: MessageContent, key: ContentKey): Promise<Bytes> =>
  concat(...(await sealForRoomInPieces(message, key)));
