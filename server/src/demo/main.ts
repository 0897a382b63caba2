/** Fills the demo when the database is empty and prints its sign-ins as JSON. */
import { readConfig } from '../config';
import { openContext } from '../server';
import { isEmpty, seedDemo } from './seed';
import { seedCrowd } from './crowd';
import { trustOutside } from './trust';

const { context, close } = await openContext(readConfig(process.env), {
  info: () => undefined,
  error: (event, error) => process.stderr.write(`${event}: ${String(error)}\n`),
});
try {
  if (await isEmpty()) {
    const crowd = process.env.UNDERLOCK_DEMO_CROWD === 'yes';
    const made = await seedDemo(
      context,
      process.env.UNDERLOCK_DEMO_PAPERS ?? 'demo/papers',
      crowd ? (filling) => seedCrowd(context, filling) : undefined,
    );
    await trustOutside(context);
    process.stdout.write(`${JSON.stringify(made)}\n`);
  }
} finally {
  await close();
}
