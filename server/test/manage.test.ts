/**
 * Accounts end, open again, change their role and lose their sessions; the last administrator stays; and everything of
 * the kind is put down.
 */
import * as accountApi from '@under-lock/contract/account';
import * as presetApi from '@under-lock/contract/handling';
import { lookAtRoom } from '@under-lock/contract/room';
import { randomBytes } from '@under-lock/core/bytes';
import { rows } from '../src/data/database';
import { LOG_KINDS } from '../src/log/log';
import { mailboxAt } from '../src/incoming/incoming';
import { codeOf, demoMessage, demoTerms, giveKeyPair, type House, openHouse, send, type Worker } from './house';

let house: House;
let ines: Worker;
let maren: Worker;
let tobias: Worker;
beforeAll(async () => {
  house = await openHouse();
  [ines, maren, tobias] = [
    await house.worker('ines.varga', 'administrator'),
    await house.worker('maren.oduya'),
    await house.worker('tobias.quill'),
  ];
  await giveKeyPair(maren);
}, 60_000);
afterAll(() => house.stop());

const signIn = ({ account, authKey }: Worker) =>
  codeOf(house.visitor()(accountApi.signIn, { body: { address: account.address, authKey, device: 'x' } }));
const kinds = async (): Promise<string[]> =>
  (await rows<{ kind: string }>(house.server.context.db, 'SELECT kind FROM office_log ORDER BY at, id')).map(
    ({ kind }) => kind,
  );

test('an account that ended signs in nowhere, is written to by nobody, and what it sent ends with it only where that is wanted', async () => {
  const kept = await send(tobias, demoMessage({ files: [] }));
  expect(
    await ines.client(accountApi.endAccount, { params: { id: tobias.account.id }, body: { withdraw: false } }),
  ).toEqual({ withdrawn: 0 });
  expect(await codeOf(tobias.client(accountApi.listSessions))).toBe('not-signed-in');
  expect(await signIn(tobias)).toBe('wrong-password');
  expect(await mailboxAt(house.server.context, tobias.account.address)).toBeUndefined();
  expect((await house.visitor()(lookAtRoom, { params: { id: kept.dispatch.grants[0]!.id } })).state).toBe('held');
  expect(
    (await maren.client(accountApi.listColleagues)).colleagues.find(({ id }) => id === tobias.account.id),
  ).toMatchObject({ endedAt: expect.any(Date) as Date });
  expect(
    await codeOf(ines.client(accountApi.endAccount, { params: { id: tobias.account.id }, body: { withdraw: false } })),
  ).toBe('conflict');
  await ines.client(accountApi.reopenAccount, { params: { id: tobias.account.id } });
  expect(await signIn(tobias)).toBe('done');
  const again = await ines.client(accountApi.endAccount, {
    params: { id: tobias.account.id },
    body: { withdraw: true },
  });
  expect(again).toEqual({ withdrawn: 1 });
  expect((await house.visitor()(lookAtRoom, { params: { id: kept.dispatch.grants[0]!.id } })).state).toBe('withdrawn');
});

test('the last administrator can neither end nor step down; with another one both can', async () => {
  const params = { id: ines.account.id };
  expect(await codeOf(ines.client(accountApi.changeRole, { params, body: { role: 'worker' } }))).toBe('conflict');
  expect(await codeOf(ines.client(accountApi.endAccount, { params, body: { withdraw: false } }))).toBe('conflict');
  await ines.client(accountApi.changeRole, { params: { id: maren.account.id }, body: { role: 'administrator' } });
  // Both at once: one of them stays.
  const both = await Promise.all([
    codeOf(ines.client(accountApi.changeRole, { params, body: { role: 'worker' } })),
    codeOf(maren.client(accountApi.changeRole, { params: { id: maren.account.id }, body: { role: 'worker' } })),
  ]);
  expect(both.sort()).toEqual(['conflict', 'done']);
  expect(
    await rows(house.server.context.db, `SELECT 1 FROM accounts WHERE role = 'administrator' AND ended_at IS NULL`),
  ).toHaveLength(1);
  await house.server.context.db.query(
    `UPDATE accounts SET role = CASE WHEN id = $1 THEN 'administrator' ELSE 'worker' END`,
    { bind: [ines.account.id] },
  );
});

test('somebody else’s sessions are ended on every device', async () => {
  await maren.client(accountApi.getSession);
  expect((await ines.client(accountApi.endSessionsOf, { params: { id: maren.account.id } })).ended).toBeGreaterThan(0);
  expect(await codeOf(maren.client(accountApi.listSessions))).toBe('not-signed-in');
});

test('what happened is put down with its actor, once, in the transaction, and never changes', async () => {
  const before = (await kinds()).length;
  await house.visitor()(accountApi.signIn, {
    body: { address: maren.account.address, authKey: maren.authKey, device: 'x' },
  });
  await codeOf(
    house.visitor()(accountApi.signIn, {
      body: { address: maren.account.address, authKey: randomBytes(32), device: 'x' },
    }),
  );
  await codeOf(
    house.visitor()(accountApi.signIn, {
      body: { address: 'nobody@larkmoor.example', authKey: randomBytes(32), device: 'x' },
    }),
  );
  const id = crypto.randomUUID();
  await ines.client(presetApi.putPreset, {
    params: { id },
    body: {
      name: 'Papers',
      sentence: 'x',
      terms: {
        closing: { kind: 'two-weeks' },
        ...demoTerms,
        audience: 'anyone',
        receipt: false,
        remindHours: 0,
        mayLoosen: { closing: true, identity: true, rights: true },
      },
      active: true,
    },
  });
  expect(await codeOf(ines.client(presetApi.setDefaultPreset, { body: { id: crypto.randomUUID() } }))).toBe(
    'not-found',
  );
  await ines.client(presetApi.deletePreset, { params: { id } });
  await ines.client(accountApi.invite, { body: { address: 'joss.amari@larkmoor.example', name: 'Joss', title: '' } });
  await ines.client(accountApi.recordExport, { body: { what: 'password-book' } });
  expect((await kinds()).slice(before)).toEqual([
    'new-device',
    'sign-in-refused',
    'preset-changed',
    'preset-deleted',
    'account-invited',
    'exported',
  ]);
  const lines = await rows<{
    kind: (typeof LOG_KINDS)[number];
    actor_id: string | null;
    about: Record<string, unknown>;
  }>(house.server.context.db, 'SELECT kind, actor_id, about FROM office_log ORDER BY at, id');
  expect(lines.at(-1)).toMatchObject({ kind: 'exported', actor_id: ines.account.id, about: { what: 'password-book' } });
  expect(lines.every(({ kind }) => LOG_KINDS.includes(kind))).toBe(true);
  await expect(house.server.context.db.query(`DELETE FROM office_log`)).rejects.toThrow('only ever added to');
  await expect(house.server.context.db.query(`UPDATE office_log SET kind = 'x'`)).rejects.toThrow('only ever added to');
});
