/** The paper by which somebody else lets a message go. */
import { defined } from '../defined';
import { MOST_SEEN, type Paper } from '../release/paper';
import { type Seen } from '../scan/message';
import { type Draft } from './draft';
import { type Planned } from './plan';
import { type KnownOfRules } from './ruled';

const seenOf = ({ id, kind, of, confidence, count, where, around }: Seen): Paper['seen'][number] => ({
  id,
  kind,
  of,
  confidence,
  count,
  where: where.in === 'file' ? { ...where, files: [...where.files] } : where,
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
    reference: reference.trim(),
    seen: looked.open.slice(0, MOST_SEEN).map(seenOf),
    more: looked.open.length > MOST_SEEN,
    unread: files.flatMap(({ blobId, name }) => {
      const inside = looked.files.get(blobId);
      return inside === undefined || inside.unread.length > 0 || inside.more ? [name] : [];
    }),
    confirmed,
    ...(reason.trim() === '' ? {} : { reason: reason.trim() }),
    ...(releaseNote.trim() === '' ? {} : { note: releaseNote.trim() }),
  };
}
