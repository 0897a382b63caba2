/**
 * `npm run invite -- --address a@b --name "A B" [--title …] [--role administrator]`: a set-up link from the command
 * line, for the first account of a new office.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { Op } from 'sequelize';
import { readConfig } from '../config';
import { AccountRow } from '../data/models';
import { Problem } from '../problem';
import { openContext } from '../server';
import { invite } from './account';
import { INVITE_HELP, type Invited, readInvite } from './invite-words';

/** Whoever comes first has an office to set up. */
const roleByDefault = async (): Promise<'worker' | 'administrator'> =>
  (await AccountRow.count({ where: { authHash: { [Op.ne]: null } } })) === 0 ? 'administrator' : 'worker';

async function link(asked: Invited): Promise<void> {
  const { context, close } = await openContext(readConfig(process.env));
  try {
    const { token, until, role } = await invite(context, { ...asked, role: asked.role ?? (await roleByDefault()) });
    process.stdout.write(
      `${context.config.origin}${officePaths.setUp(token)}\nworks once, until ${until.toISOString()}, for ${asked.name}, ${role}\n`,
    );
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    process.stderr.write(`${String(error.data['detail'] ?? error.message)}\n`);
    process.exitCode = 1;
  } finally {
    await close();
  }
}

const asked = readInvite(process.argv.slice(2));
if (asked === 'help') process.stdout.write(INVITE_HELP);
else if (typeof asked === 'string') {
  process.stderr.write(`${asked}\n\n${INVITE_HELP}`);
  process.exitCode = 2;
} else await link(asked);
