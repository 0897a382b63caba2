/** What a file's reader gives: text with its place in the file, or that something could not be looked into. */

/** What of a file is not its body: it is easily overlooked. */
export const PARTS = [
  'header',
  'footer',
  'note',
  'comment',
  'hidden',
  'form',
  'properties',
  'deleted',
  'picture',
] as const;

/** Where a piece stands: the files it lies in, outermost first, and what of the last one it is. */
export interface Place {
  files: readonly string[];
  /** A page or slide, from 1. */
  page?: number;
  sheet?: string;
  part?: (typeof PARTS)[number];
}

export interface TextPiece {
  place: Place;
  text: string;
  /** The name of a place within the text, where it has names of its own: a sheet's cell. */
  cellAt?: (offset: number) => string | undefined;
}

/** Why something could not be looked into. */
export type Unread = 'locked' | 'damaged' | 'too-large' | 'too-deep' | 'too-long' | 'picture' | 'unknown';

export interface UnreadPiece {
  place: Place;
  unread: Unread;
}

/** More text than is looked through. */
export class TooLongError extends Error {}

export type Piece = TextPiece | UnreadPiece;

export const isUnread = (piece: Piece): piece is UnreadPiece => 'unread' in piece;
