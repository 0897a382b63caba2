/**
 * `npm run invite -- --address a@b --name "A B" [--title …] [--role administrator]`: a set-up link from the command
 * line, for the first account of a new office.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { parseArgs } from 'node:util';
import { readConfig } from '../config';
import { Problem } from '../problem';
import { openContext } from '../server';
import { invite } from './account';

const { values } = parseArgs({
  options: {
    address: { type: 'string' },
    name: { type: 'string' },
    title: { type: 'string', default: '' },
    role: { type: 'string', default: 'worker' },
  },
});
if (values.address === undefined || values.name === undefined) {
  process.stderr.write('Say --address and --name.\n');
  process.exit(2);
}
const { context, close } = await openContext(readConfig(process.env));
try {
  const { token, until } = await invite(context, {
    address: values.address,
    name: values.name,
    title: values.title,
    role: values.role === 'administrator' ? 'administrator' : 'worker',
  });
  process.stdout.write(
    `${context.config.origin}${officePaths.setUp(token)}\nworks once, until ${until.toISOString()}\n`,
  );
} catch (error) {
  if (!(error instanceof Problem)) throw error;
  process.stderr.write(`${String(error.data['detail'] ?? error.message)}\n`);
  process.exitCode = 1;
} finally {
  await close();
}
