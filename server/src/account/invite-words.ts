/** What the command that invites is told, and what it says. */
import { parseArgs } from 'node:util';

export interface Invited {
  address: string;
  name: string;
  title: string;
  /** As it comes where nothing is said. */ role?: 'worker' | 'administrator';
}

export const INVITE_HELP = `npm run invite -- --address you@your.domain --name "Your Name"
  --title "What they do"
  --role  administrator or worker; the first to come is an administrator, everybody else a worker
`;

/** @returns What is asked for, `help`, or a sentence that says what is wrong with it. */
export function readInvite(args: readonly string[]): Invited | 'help' | string {
  let said;
  try {
    said = parseArgs({
      args: [...args],
      options: {
        address: { type: 'string' },
        name: { type: 'string' },
        title: { type: 'string', default: '' },
        role: { type: 'string' },
        help: { type: 'boolean', short: 'h', default: false },
      },
    }).values;
  } catch (error) {
    return (error as Error).message;
  }
  const { address, name, title, role, help } = said;
  if (help) return 'help';
  if (address === undefined || name === undefined || name.trim() === '') return 'Say --address and --name.';
  if (role === undefined) return { address, name, title };
  if (role !== 'administrator' && role !== 'worker') return `--role is administrator or worker, not “${role}”.`;
  return { address, name, title, role };
}
