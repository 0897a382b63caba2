/**
 * What the office says about locked files. Every change is a row of its own, so that it can be told which rules held
 * when.
 */
import { randomUUID } from 'node:crypto';
import { fileRulesProblem, fileRulesSchema, type FileRules, OUR_RULES } from '@under-lock/core/locks/file/rules';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { byAccount, telling } from '../log/log';
import { invalid } from '../problem';

export async function currentFileRules(context: Context): Promise<FileRules> {
  const [row] = await rows<{ rules: unknown }>(
    context.db,
    'SELECT rules FROM file_rules ORDER BY changed_at DESC, id LIMIT 1',
  );
  return row === undefined ? OUR_RULES : fileRulesSchema.parse(row.rules);
}

/** @throws Problem `invalid-input`, naming the part */
export async function changeFileRules(context: Context, accountId: string, rules: FileRules): Promise<void> {
  const wrong = fileRulesProblem(rules);
  if (wrong !== undefined)
    throw invalid(
      `These rules can’t be used: ${wrong.code}${'whom' in wrong ? ` (${wrong.whom})` : 'language' in wrong ? ` (${wrong.language}: ${wrong.problem})` : ''}.`,
    );
  await telling(context, { kind: 'locked-files-changed', actor: byAccount(accountId) }, (transaction) =>
    run(
      context.db,
      'INSERT INTO file_rules (id, changed_at, changed_by, rules) VALUES ($1, $2, $3, $4)',
      [randomUUID(), context.clock(), accountId, JSON.stringify(rules)],
      transaction,
    ),
  );
}
