/** The paper by which somebody else lets a message go. */
import { oneLine } from '../one-line';
import { defined } from '../defined';
import { LONGEST_NAME, MOST_DEEP, MOST_SEEN, MOST_UNREAD, type Paper } from '../release/paper';
import { type Seen } from '../scan/message';
import { type Draft } from './draft';
import { isUnreadFile } from './looked';
import { type Planned } from './plan';
import { type KnownOfRules } from './ruled';

const nameOf = (name: string): string => name.slice(0, LONGEST_NAME);

/** However long names are and however deep files lie: what is too long to be shown never keeps the paper shut. */
function placeOf(where: Seen['where']): Paper['seen'][number]['where'] {
  if (where.in === 'name') return { ...where, file: nameOf(where.file) };
  return where.in === 'file' ? { ...where, files: where.files.slice(0, MOST_DEEP).map(nameOf) } : where;
}

const seenOf = ({ id, kind, of, confidence, count, where, around }: Seen): Paper['seen'][number] => ({
  id,
  kind,
  of,
  confidence,
  count,
  where: placeOf(where),
  around,
});

/** Of a planned draft that may go. */
export function paperOf(
  draft: Draft,
  { plan, applied, preset, closingChoice, leavesAt }: Planned,
  { looked }: KnownOfRules,
  closesAt: Date,
): Paper {
  const { reference, files, confirmed = [], reason = '', releaseNote = '' } = draft;
  return {
    recipients: plan.lines.map(({ recipient: { name, address, role }, chosen: { lock, check } }) => ({
      name,
      address,
      role,
      lock,
      ...(check === undefined ? {} : { check: { kind: check.kind, ...defined({ hint: check.hint }) } }),
    })),
    terms: applied.terms,
    ...(preset === undefined ? {} : { presetId: preset.id }),
    ...defined({ closing: closingChoice }),
    closesAt: closesAt.toISOString(),
    ...(leavesAt === undefined ? {} : { leavesAt: leavesAt.toISOString() }),
    reference: oneLine(reference),
    seen: looked.open.slice(0, MOST_SEEN).map(seenOf),
    more: looked.open.length > MOST_SEEN,
    unread: files
      .filter(({ blobId }) => isUnreadFile(looked.files.get(blobId)))
      .slice(0, MOST_UNREAD)
      .map(({ name }) => nameOf(name)),
    confirmed,
    ...(reason.trim() === '' ? {} : { reason: reason.trim() }),
    ...(releaseNote.trim() === '' ? {} : { note: releaseNote.trim() }),
  };
}
