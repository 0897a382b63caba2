/** The office's mail slots: whose they are, who is behind them, and what whoever may change them says. */
import { type makeSlot, type MailSlot, type putSlot } from '@under-lock/contract/slot';
import { SLOT_PEOPLE } from '@under-lock/core/slot/limits';
import { randomBytes, randomUUID } from 'node:crypto';
import { type z } from 'zod';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { byAccount, telling } from '../log/log';
import { invalid, notFound, Problem } from '../problem';

export interface SlotRow {
  id: string;
  token: string;
  kind: MailSlot['kind'];
  account_id: string | null;
  department: string | null;
  open: boolean;
  proves: boolean;
  name: string;
}

const TOKEN_BYTES = 12;
const makeToken = (): string => randomBytes(TOKEN_BYTES).toString('base64url');

/** Slots with what each is called; $1 is the office's name. */
export const NAMED = `(SELECT s.*, CASE s.kind WHEN 'office' THEN $1 WHEN 'department' THEN s.department ELSE a.name END AS name
  FROM slots s LEFT JOIN accounts a ON a.id = s.account_id)`;
/** The account `a` is behind the slot `s`. */
const BEHIND = `a.ended_at IS NULL AND CASE s.kind WHEN 'colleague' THEN a.id = s.account_id
  WHEN 'department' THEN a.departments ? s.department ELSE s.people ? a.id::text END`;

export interface BehindSlot {
  id: string;
  name: string;
  suite: number | null;
  public_key: Buffer | null;
}

/** Whoever has what is left in it, as things are now. */
export const peopleBehind = (context: Context, slotId: string): Promise<BehindSlot[]> =>
  rows<BehindSlot>(
    context.db,
    `SELECT a.id, a.name, a.key_suite AS suite, a.public_key FROM slots s JOIN accounts a ON ${BEHIND}
      WHERE s.id = $1 ORDER BY a.name, a.id LIMIT ${SLOT_PEOPLE}`,
    [slotId],
  );

/** An open one, by its link or its number. @throws Problem `not-found` for a closed one and for none alike */
export async function openSlot(context: Context, by: 'token' | 'id', value: string): Promise<SlotRow> {
  const [slot] = await rows<SlotRow>(context.db, `SELECT * FROM ${NAMED} s WHERE ${by} = $2 AND open`, [
    context.config.office.name,
    value,
  ]);
  if (slot === undefined) throw notFound('This mail slot');
  return slot;
}

const mayChange = ({ id, role }: AccountRow, { account_id }: Pick<SlotRow, 'account_id'>): boolean =>
  account_id === null ? role === 'administrator' : account_id === id;

export async function listSlots(context: Context, who: AccountRow): Promise<MailSlot[]> {
  const found = await rows<SlotRow>(
    context.db,
    `SELECT * FROM ${NAMED} s WHERE account_id = $2 OR (account_id IS NULL AND $3)
        OR EXISTS (SELECT 1 FROM accounts a WHERE a.id = $2 AND ${BEHIND})
      ORDER BY array_position(ARRAY['colleague', 'office', 'department'], kind), name`,
    [context.config.office.name, who.id, who.role === 'administrator'],
  );
  return Promise.all(
    found.map(async (slot) => ({
      id: slot.id,
      kind: slot.kind,
      name: slot.name,
      token: slot.token,
      open: slot.open,
      proves: slot.proves,
      people: (await peopleBehind(context, slot.id)).map(({ id, name, public_key }) => ({
        id,
        name,
        ready: public_key !== null,
      })),
      mine: mayChange(who, slot),
    })),
  );
}

async function requireColleagues(context: Context, ids: readonly string[]): Promise<void> {
  const found = await rows(context.db, 'SELECT id FROM accounts WHERE id = ANY($1) AND ended_at IS NULL', [ids]);
  if (found.length !== new Set(ids).size) throw invalid('Somebody named here has no account in this office.');
}

/** @throws Problem `not-allowed`, `invalid-input` */
export async function addSlot(
  context: Context,
  who: AccountRow,
  wanted: z.output<(typeof makeSlot)['body']>,
): Promise<{ id: string }> {
  if (wanted.kind !== 'colleague' && who.role !== 'administrator')
    throw new Problem('not-allowed', 403, 'This is for the office’s administrators');
  if (wanted.kind === 'office') await requireColleagues(context, wanted.people);
  const id = randomUUID();
  const whose = [
    wanted.kind,
    wanted.kind === 'colleague' ? who.id : null,
    wanted.kind === 'department' ? wanted.department : null,
  ];
  await telling(
    context,
    { kind: 'slot-made', actor: byAccount(who.id), about: { slot: id, of: wanted.kind } },
    (transaction) =>
      run(
        context.db,
        `INSERT INTO slots (id, token, kind, account_id, department, people, open, proves, made_at)
        VALUES ($1, $2, $3, $4, $5, $6::jsonb, true, true, $7) ON CONFLICT DO NOTHING`,
        [id, makeToken(), ...whose, JSON.stringify(wanted.kind === 'office' ? wanted.people : []), context.clock()],
        transaction,
      ),
  );
  const [slot] = await rows<{ id: string }>(
    context.db,
    'SELECT id FROM slots WHERE kind = $1 AND account_id IS NOT DISTINCT FROM $2 AND department IS NOT DISTINCT FROM $3',
    whose,
  );
  return slot!;
}

/** @throws Problem `not-found` also when it is somebody else's */
async function changeable(context: Context, who: AccountRow, id: string): Promise<SlotRow> {
  const [slot] = await rows<SlotRow>(context.db, `SELECT * FROM ${NAMED} s WHERE id = $2`, [
    context.config.office.name,
    id,
  ]);
  if (slot === undefined || !mayChange(who, slot)) throw notFound('This mail slot');
  return slot;
}

export async function changeSlot(
  context: Context,
  who: AccountRow,
  id: string,
  { open, proves, people }: z.output<(typeof putSlot)['body']>,
): Promise<void> {
  const { kind } = await changeable(context, who, id);
  if (people !== undefined) {
    if (kind !== 'office') throw invalid('Only the office’s slot has people of its own.');
    await requireColleagues(context, people);
  }
  await telling(
    context,
    { kind: 'slot-changed', actor: byAccount(who.id), about: { slot: id, open, proves } },
    (transaction) =>
      run(
        context.db,
        'UPDATE slots SET open = $2, proves = $3, people = coalesce($4::jsonb, people) WHERE id = $1',
        [id, open, proves, people === undefined ? null : JSON.stringify(people)],
        transaction,
      ),
  );
}

export async function renewLink(context: Context, who: AccountRow, id: string): Promise<{ token: string }> {
  await changeable(context, who, id);
  const token = makeToken();
  await telling(context, { kind: 'slot-link-renewed', actor: byAccount(who.id), about: { slot: id } }, (transaction) =>
    run(context.db, 'UPDATE slots SET token = $2 WHERE id = $1', [id, token], transaction),
  );
  return { token };
}
