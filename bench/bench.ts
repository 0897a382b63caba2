/** The table of contents of the measurements; `npm run bench -- lists` runs one of them. */
import { certificates } from './certificates';
import { doorPerSecond } from './door';
import { heldLists, lists } from './lists';
import { firstLook } from './look';
import { lockedFiles } from './locked-files';
import { live } from './live';
import { manyRecipients } from './many';
import { officeBook } from './office-book';
import { openpgp } from './openpgp';
import { planning } from './planning';
import { scanning } from './scan';
import { sealing } from './sealing';
import { search } from './search';
import { mailPrograms } from './submission';
import { type Row } from './row';
import { weights } from './weights';
import { writing } from './writing';

const rows: Row[] = [];
const measures = {
  sealing,
  certificates,
  openpgp,
  lockedFiles,
  weights,
  doorPerSecond,
  lists,
  heldLists,
  manyRecipients,
  planning,
  scanning,
  live,
  search,
  firstLook,
  mailPrograms,
  officeBook,
  writing,
};
const [wanted] = process.argv.slice(2);
for (const [name, measure] of Object.entries(measures)) {
  if (wanted !== undefined && wanted !== name) continue;
  const measured = await measure();
  rows.push(...measured);
  for (const { what, value, aim } of measured)
    process.stdout.write(`${what.padEnd(78)} ${value.padStart(12)}   aim ${aim}\n`);
}
process.exit(0);
