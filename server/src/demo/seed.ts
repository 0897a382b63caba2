/**
 * Fills an empty database with the demo: Larkmoor Ferries, a co-operative that runs boats between islands. Everything
 * is made up. What a browser would do is done here with the same core: the passwords are stretched, the vaults sealed,
 * the messages split, so that the demo is real.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { type Shelf } from '@under-lock/core/vault/shelf';
import { randomUUID } from 'node:crypto';
import { invite } from '../account/account';
import { type Context } from '../context';
import { AccountRow, type GrantRow } from '../data/models';
import { putPreset, setDefaultPreset } from '../handling/preset';
import { logged } from '../log/log';
import { addSlot } from '../slot/slots';
import { type DemoSignIn, makeWorker, shelfOf, type Worker } from './accounts';
import { seedBook } from './book';
import { DEPARTMENTS, people, type PresetIds, type PresetName, presets, READER_PASSWORD, staff } from './office';
import { fillPast } from './past';
import { seedRules } from './rules';
import { type DemoMessage, sendDemo } from './send';

export async function isEmpty(): Promise<boolean> {
  return (await AccountRow.count()) === 0;
}

/** What else may be filled in, in the name of one of its people. */
export interface Filling {
  account: AccountRow;
  shelf: Shelf;
  /** Under the preset for everyday papers. */
  send(demo: Omit<DemoMessage, 'preset'>): Promise<GrantRow[]>;
}

async function makePresets(context: Context, administrator: Worker): Promise<PresetIds> {
  const { id } = administrator.account;
  const ids = Object.fromEntries(Object.keys(presets).map((name) => [name, randomUUID()])) as Record<
    PresetName,
    string
  >;
  for (const [name, preset] of Object.entries(presets))
    await putPreset(context, id, ids[name as PresetName], { ...preset, active: true });
  await setDefaultPreset(context, id, ids.everyday);
  return ids;
}

/** The demo's office has long been set up. */
async function noteSetUp(context: Context): Promise<void> {
  for (const [kind, about] of [
    ['mail-tried', { outcome: 'accepted', answer: '250 taken' }],
    ['records-published', {}],
  ] as const)
    await logged(context, { kind, actor: { kind: 'operator' }, about });
}

/** Where they work, what they know in common, and who may what. */
async function settle(context: Context, [maren, tobias, ines]: readonly Worker[]): Promise<void> {
  for (const [index, worker] of [maren!, tobias!, ines!].entries())
    // Everybody but who writes most of it may release what others wrote.
    await worker.account.update({ departments: [DEPARTMENTS[index]!], mayRelease: index > 0 });
  await seedBook(context, [ines!, maren!, tobias!]);
  await addSlot(context, ines!.account, { kind: 'office', people: [ines!.account.id, maren!.account.id] });
}

export interface Seeded {
  signIns: DemoSignIn[];
  /** The address at which somebody new sets up an account. */
  invitation: string;
  reader: { address: string; password: string; list: string };
}

/**
 * Resolves with what to print. `papers` is the folder of the demo's files; `also` fills in more in Tobias Quill's name.
 */
export async function seedDemo(
  context: Context,
  papers: string,
  also?: (filling: Filling) => Promise<void>,
): Promise<Seeded> {
  const made = [];
  for (const one of staff) made.push(await makeWorker(context, one));
  const workers = made.map(({ worker }) => worker);
  const [maren, tobias, ines] = workers as [Worker, Worker, Worker];
  await noteSetUp(context);
  const presetIds = await makePresets(context, ines);
  const shelf = shelfOf(context, maren);
  for (const value of Object.values(people)) await shelf.keep('person', randomUUID(), 0, value);
  await fillPast(context, { maren, tobias, presetIds, papers });
  await also?.({
    account: tobias.account,
    shelf: shelfOf(context, tobias),
    send: (demo) => sendDemo(context, { worker: tobias, presetIds }, { ...demo, preset: 'everyday' }),
  });
  await seedRules(context, ines.account, presetIds);
  await settle(context, workers);
  const { token } = await invite(context, {
    address: `joss.amari@${context.config.office.mailDomain}`,
    name: 'Joss Amari',
    title: 'Deck office',
  });
  return {
    signIns: made.map(({ signIn }) => signIn),
    invitation: `${context.config.origin}${officePaths.setUp(token)}`,
    reader: {
      address: people.surveyor.address,
      password: READER_PASSWORD,
      list: `${context.config.roomOrigin}/room/list`,
    },
  };
}
