/** The table of contents of the measurements. */
import { doorPerSecond } from './door';
import { lists } from './lists';
import { sealing } from './sealing';
import { type Row } from './row';
import { weights } from './weights';

const rows: Row[] = [];
for (const measure of [sealing, weights, doorPerSecond, lists]) {
  const measured = await measure();
  rows.push(...measured);
  for (const { what, value, aim } of measured) process.stdout.write(`${what.padEnd(78)} ${value.padStart(12)}   aim ${aim}\n`);
}
process.exit(0);
