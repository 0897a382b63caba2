/** After a restore: what the journal says has ended is ended again. */
import { type FileHandle, open } from 'node:fs/promises';
import { type Context } from '../context';
import { rows } from '../data/database';
import { endGrants } from './grants';
import { carryOver, journalLine, type Line } from './journal';

const LOT = 500;
const LOCK = 8423;

async function* linesFrom(file: FileHandle): AsyncGenerator<Line> {
  for await (const text of file.readLines()) {
    const parsed = journalLine.safeParse(parsedJson(text));
    // The last line of a machine that lost power may be half a line.
    if (parsed.success) yield parsed.data;
  }
}

function parsedJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/**
 * Before any door opens: ends again whatever the file says has ended and the database holds. Returns how many there
 * were.
 */
export async function applyJournal(context: Context): Promise<number> {
  const { journal } = context.config;
  if (journal === undefined) return 0;
  await carryOver(context);
  let count = 0;
  const file = await open(journal, 'a+', 0o600);
  try {
    let lot: Line[] = [];
    const apply = async (): Promise<void> => {
      count += await endAgain(context, lot);
      lot = [];
    };
    for await (const one of linesFrom(file)) {
      lot.push(one);
      if (lot.length === LOT) await apply();
    }
    await apply();
  } finally {
    await file.close();
  }
  if (count > 0) context.log.info('journal', { ended: count });
  return count;
}

async function endAgain(context: Context, lines: readonly Line[]): Promise<number> {
  if (lines.length === 0) return 0;
  return context.db.transaction(async (transaction) => {
    await rows(context.db, 'SELECT pg_advisory_xact_lock($1)', [LOCK], transaction);
    const held = new Set(
      (
        await rows<{ id: string }>(
          context.db,
          `SELECT id FROM grants WHERE id = ANY($1) AND state = 'held' FOR UPDATE`,
          [lines.map(({ access }) => access)],
          transaction,
        )
      ).map(({ id }) => id),
    );
    for (const { access, state, at } of lines)
      if (held.has(access)) await endGrants(context, [{ id: access }], { state, at: new Date(at) }, transaction);
    return held.size;
  });
}
