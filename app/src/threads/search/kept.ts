/** The index of one vault: in memory for searching, in sealed pieces for the next time. */
import { type Index, makeIndex, type SearchRecord } from '@under-lock/core/search/scan';
import { z } from 'zod';
import { type OpenVault } from '../vault-key';
import { readPieces, writePiece } from './pieces';

const recordSchema = z.object({
  id: z.string(),
  kind: z.enum(['sent', 'held', 'mail']),
  at: z.number(),
  subject: z.string(),
  people: z.array(z.object({ name: z.string(), address: z.string() })),
  reference: z.string(),
  files: z.array(z.string()),
  text: z.string(),
  worded: z.boolean(),
  closesAt: z.number().optional(),
}) satisfies z.ZodType<SearchRecord>;

const PIECE = 200; // records
/** Beyond it the text of what comes is not kept; it is found by its head. */
const MOST_TEXT = 64_000_000; // UTF-16 units

const sideSchema = z.enum(['sent', 'received']);
type Side = z.infer<typeof sideSchema>;
/** The piece that says which of the two lists has been read to its end. */
const WHOLE = -1;

export interface KeptIndex {
  index: Index;
  /** Lists that have been read to their end, so that from now on only what is new has to be. */
  whole: ReadonlySet<Side>;
  noteWhole(side: Side): Promise<void>;
  put(record: SearchRecord): void;
  drop(id: string): void;
  /** Writes what has changed. */
  flush(): Promise<void>;
}

interface Kept {
  records: SearchRecord[];
  /** Which records lie in which piece. */
  pieces: Map<number, Set<string>>;
  whole: Set<Side>;
}

async function readRecords(vault: OpenVault): Promise<Kept> {
  const { pieces, lost } = await readPieces(vault);
  const whole = z.array(sideSchema).safeParse(pieces.get(WHOLE));
  pieces.delete(WHOLE);
  const kept: Kept = { records: [], pieces: new Map(), whole: new Set() };
  let read = !lost;
  for (const [number, value] of pieces) {
    const parsed = z.array(recordSchema).safeParse(value);
    read &&= parsed.success;
    if (!parsed.success) continue;
    kept.pieces.set(number, new Set(parsed.data.map(({ id }) => id)));
    kept.records.push(...parsed.data);
  }
  // With a piece gone, what lay in it has to be met anew.
  if (read && whole.success) kept.whole = new Set(whole.data);
  return kept;
}

function roomyPiece(pieces: Map<number, Set<string>>): number {
  for (const [number, ids] of pieces) if (ids.size < PIECE) return number;
  const number = Math.max(-1, ...pieces.keys()) + 1;
  pieces.set(number, new Set());
  return number;
}

export async function openIndex(vault: OpenVault): Promise<KeptIndex> {
  const { records, pieces, whole } = await readRecords(vault);
  const pieceOf = new Map([...pieces].flatMap(([number, ids]) => [...ids].map((id) => [id, number] as const)));
  const changed = new Set<number>();
  const index = makeIndex(records);
  let text = records.reduce((sum, record) => sum + record.text.length, 0);
  return {
    index,
    whole,
    async noteWhole(side) {
      if (whole.has(side)) return;
      whole.add(side);
      await writePiece(vault, WHOLE, [...whole]);
    },
    put(record) {
      const before = index.get(record.id);
      const kept = text + record.text.length > MOST_TEXT ? { ...record, text: '' } : record;
      text += kept.text.length - (before?.text.length ?? 0);
      const number = pieceOf.get(record.id) ?? roomyPiece(pieces);
      pieceOf.set(record.id, number);
      pieces.get(number)!.add(record.id);
      changed.add(number);
      index.put(kept);
    },
    drop(id) {
      const number = pieceOf.get(id);
      if (number === undefined) return;
      text -= index.get(id)?.text.length ?? 0;
      pieces.get(number)!.delete(id);
      pieceOf.delete(id);
      changed.add(number);
      index.drop(id);
    },
    async flush() {
      for (const number of [...changed]) {
        changed.delete(number);
        await writePiece(
          vault,
          number,
          [...pieces.get(number)!].map((id) => index.get(id)!),
        );
      }
    },
  };
}
