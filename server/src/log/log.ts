/**
 * What happened in the office apart from its messages: who came in and who was refused, accounts, trust, presets, keys,
 * exports. Each line is written in the transaction of what it tells of, so that neither is there without the other, and
 * none is ever changed.
 */
import { randomUUID } from 'node:crypto';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { run } from '../data/database';

export const LOG_KINDS = [
  'signed-in',
  'sign-in-refused',
  'new-device',
  'signed-out',
  'sessions-ended',
  'password-changed',
  'recovery-used',
  'recovery-refused',
  'recovery-code-replaced',
  'account-invited',
  'account-set-up',
  'account-ended',
  'account-reopened',
  'role-changed',
  'addresses-changed',
  'departments-changed',
  'release-permission-changed',
  'phone-changed',
  'device-added',
  'device-ended',
  'reader-registered',
  'reader-signed-in',
  'reader-sign-in-refused',
  'reader-password-changed',
  'reader-password-reset',
  'reader-forgotten',
  'authority-trusted',
  'authority-no-longer-trusted',
  'key-trusted',
  'key-no-longer-trusted',
  'preset-changed',
  'preset-deleted',
  'preset-made-default',
  'presets-ordered',
  'rules-changed',
  'notices-changed',
  'locked-files-changed',
  'signing-key-replaced',
  'mail-tried',
  'records-published',
  'certificate-requested',
  'certificate-revoked',
  'key-published',
  'key-taken-down',
  'key-vouched-for',
  'message-let-go',
  'message-sent-back',
  'statement-made',
  'office-book-begun',
  'office-member-let-in',
  'office-member-let-out',
  'door-let-in',
  'door-let-out',
  'signer-let-in',
  'signer-let-out',
  'office-key-renewed',
  'slot-made',
  'slot-changed',
  'slot-link-renewed',
  'slot-sender-blocked',
  'slot-sender-taken-again',
  'exported',
] as const;
export type LogKind = (typeof LOG_KINDS)[number];

export type Actor =
  | { kind: 'account'; id: string }
  | { kind: 'reader'; id: string }
  /** Somebody who has not proved who they are. */
  | { kind: 'nobody' }
  /** Whoever runs the house's own commands. */
  | { kind: 'operator' };

export interface LogLine {
  kind: LogKind;
  actor: Actor;
  /** Numbers and names of what it is about; never a secret, and no text of anybody's. */
  about?: Record<string, string | number | boolean>;
}

export const byAccount = (id: string): Actor => ({ kind: 'account', id });

/** What the house's own commands do, they do for nobody's account. */
export const byAccountOrOperator = (id: string | undefined): Actor =>
  id === undefined ? { kind: 'operator' } : byAccount(id);

export async function logged(
  { db, clock }: Context,
  { kind, actor, about = {} }: LogLine,
  transaction?: Transaction,
): Promise<void> {
  await run(
    db,
    'INSERT INTO office_log (id, at, kind, actor_kind, actor_id, about) VALUES ($1, $2, $3, $4, $5, $6)',
    [randomUUID(), clock(), kind, actor.kind, 'id' in actor ? actor.id : null, JSON.stringify(about)],
    transaction,
  );
}

/** Does something and tells of it, together or not at all. */
export function telling<T>(context: Context, line: LogLine, act: (transaction: Transaction) => Promise<T>): Promise<T> {
  return context.db.transaction(async (transaction) => {
    const done = await act(transaction);
    await logged(context, line, transaction);
    return done;
  });
}
