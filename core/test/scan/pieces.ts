/** What readers give of a file, and in short what it says and where. */
import { isUnread, type Piece } from '../../src/scan/files/piece';
import { readFile, type ReadLimits, READ_LIMITS } from '../../src/scan/files/read';

export async function read(name: string, bytes: Uint8Array, limits: ReadLimits = READ_LIMITS): Promise<Piece[]> {
  const pieces: Piece[] = [];
  for await (const piece of readFile({ name, bytes: new Uint8Array(bytes) }, {}, limits)) pieces.push(piece);
  return pieces;
}
export const said = (pieces: readonly Piece[]): unknown[] =>
  pieces.map((piece) => {
    const { files, ...where } = piece.place;
    const path = files.join(' > ');
    return isUnread(piece)
      ? [path, piece.unread]
      : [path, ...Object.values(where), piece.text.replace(/\s+/g, ' ').trim()];
  });
