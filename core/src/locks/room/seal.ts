import { type Bytes, concat, type Flow, type Pieces, piecesOf } from '../../bytes';
import { messageInPieces } from '../../message/build';
import { type MessageContent } from '../../message/content';
import { type ContentKey, sealAsItGoes } from './content';

/** The one content that all who read it come to, sealed while it is taken. A key seals one content and no other. */
export const sealForRoomAsItGoes = (message: MessageContent, key: ContentKey): Flow =>
  sealAsItGoes(messageInPieces(message), key);

/** All of it, for whoever puts it part by part. */
export const sealForRoomInPieces = (message: MessageContent, key: ContentKey): Promise<Pieces> =>
  piecesOf(sealForRoomAsItGoes(message, key));

/** In one piece. */
export const sealForRoom = async (message: MessageContent, key: ContentKey): Promise<Bytes> =>
  concat(...(await sealForRoomInPieces(message, key)));
