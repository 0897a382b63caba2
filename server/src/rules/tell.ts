/** Whom rules tell that they acted: people of the office, by mail, once the message has left, and nothing of what it says. */
import { buildRuleMail } from '@under-lock/core/notice/notice';
import { type Verdict } from '@under-lock/core/rules/rule';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { officeMail, sendUnfollowed } from '../mail/office-mail';

/**
 * Only who works here is told, whatever a rule says. Whoever was told of a message is told again where another rule acts
 * on whom it is given to later.
 */
export async function noteTells(
  context: Context,
  messageId: string,
  verdict: Verdict | undefined,
  transaction: Transaction,
): Promise<void> {
  if (verdict === undefined) return;
  const { acted, demand } = verdict;
  for (const address of demand.tell) {
    const names = acted.filter((one) => one.demand.tell.includes(address)).map(({ rule }) => rule.name);
    await run(
      context.db,
      `INSERT INTO rule_tells (message_id, address, rules)
       SELECT $1, address, $3 FROM accounts WHERE address_key = $2 AND ended_at IS NULL
       ON CONFLICT (message_id, address) DO UPDATE
         SET rules = ARRAY(SELECT DISTINCT unnest(rule_tells.rules || EXCLUDED.rules)), told_at = NULL
         WHERE NOT rule_tells.rules @> EXCLUDED.rules`,
      [messageId, address, names],
      transaction,
    );
  }
}

interface Due {
  message_id: string;
  address: string;
  name: string;
  rules: string[];
  sender: string;
  sent_at: Date;
  reference: string;
  people: number;
}

/** Marked before the mail goes, so that two processes never tell twice; unmarked when the mail host can't take it now. */
export async function tellOfRules(context: Context): Promise<void> {
  const now = context.clock();
  const due = await rows<Due>(
    context.db,
    `UPDATE rule_tells t SET told_at = $1 FROM messages m, accounts s, accounts a
     WHERE (t.message_id, t.address) IN (
       SELECT d.message_id, d.address FROM rule_tells d JOIN messages dm ON dm.id = d.message_id
       WHERE d.told_at IS NULL AND dm.sent_at <= $1 ORDER BY dm.sent_at LIMIT 100 FOR UPDATE OF d SKIP LOCKED)
     AND m.id = t.message_id AND s.id = m.account_id AND a.address = t.address
     RETURNING t.message_id, t.address, a.name, t.rules, s.name AS sender, m.sent_at, m.reference,
       ((SELECT count(DISTINCT lower(g.address)) FROM grants g WHERE g.message_id = m.id)
        + (SELECT count(*) FROM copies c JOIN copy_recipients r ON r.copy_id = c.id WHERE c.message_id = m.id))::int AS people`,
    [now],
  );
  const { office } = context.config;
  for (const one of due) {
    const raw = buildRuleMail({
      ...officeMail(context, one, `rule-${one.message_id}-${one.rules.length}-${one.address.replace('@', '-')}`),
      sender: one.sender,
      people: one.people,
      rules: one.rules,
      sentAt: one.sent_at,
      zone: office.calendar.zone,
      reference: one.reference,
    });
    const { outcome } = await sendUnfollowed(context, one.address, raw);
    if (outcome === 'later')
      await run(context.db, 'UPDATE rule_tells SET told_at = NULL WHERE message_id = $1 AND address = $2', [
        one.message_id,
        one.address,
      ]);
  }
}
