/** Fills the demo when the database is empty and prints its sign-ins as JSON. */
import { readConfig } from '../config';
import { openContext } from '../server';
import { isEmpty, seedDemo } from './seed';

const { context, close } = await openContext(readConfig(process.env), { info: () => undefined, error: (event, error) => process.stderr.write(`${event}: ${String(error)}\n`) });
try {
  if (await isEmpty()) process.stdout.write(`${JSON.stringify(await seedDemo(context, process.env.UNDERLOCK_DEMO_PAPERS ?? 'demo/papers'))}\n`);
} finally {
  await close();
}
