/** Where colleagues work: said by administrators, asked about by rules, and by presets that are for a department only. */
import { listColleagues, putDepartments } from '@under-lock/contract/account';
import { listPresets, putPreset } from '@under-lock/contract/handling';
import { dispatchMessage } from '@under-lock/contract/outgoing';
import { getPolicy, putPolicyItem } from '@under-lock/contract/rules';
import { NO_CONTENT } from '@under-lock/core/rules/facts';
import { randomUUID } from 'node:crypto';
import { answerOf, codeOf, demoMessage, demoTerms, type House, openHouse, prepare, upload, type Worker } from './house';

let house: House;
let admin: Worker;
let maren: Worker;
let tobias: Worker;
beforeAll(async () => {
  house = await openHouse();
  admin = await house.worker('ines.varga', 'administrator');
  maren = await house.worker('maren.oduya');
  tobias = await house.worker('tobias.quill');
});
afterAll(() => house.stop());

const put = (by: Worker, of: Worker, departments: string[]) =>
  by.client(putDepartments, { params: { id: of.account.id }, body: { departments } });
const departmentsOf = async (of: Worker) =>
  (await maren.client(listColleagues)).colleagues.find(({ id }) => id === of.account.id)?.departments;
async function send(by: Worker, presetId: string, ruled?: object) {
  const { id, content, contentBlobId, dispatch } = await prepare(demoMessage({ files: [] }));
  await upload(by.client, contentBlobId, content);
  return by.client(dispatchMessage, { params: { id }, body: { ...dispatch, presetId, ...ruled } as never });
}

test('administrators say where somebody works, each department once', async () => {
  await put(admin, tobias, ['Pay office', ' Pay office ', 'Deck']);
  expect(await departmentsOf(tobias)).toEqual(['Pay office', 'Deck']);
  await put(admin, tobias, ['Pay office']);
  expect(await departmentsOf(tobias)).toEqual(['Pay office']);
  expect(await codeOf(put(maren, maren, ['Pay office']))).toBe('not-allowed');
  expect(await codeOf(admin.client(putDepartments, { params: { id: randomUUID() }, body: { departments: [] } }))).toBe(
    'not-found',
  );
});

test('a preset for a department is nobody else’s to choose, whatever their browser says', async () => {
  const [pay, all] = [randomUUID(), randomUUID()];
  const terms = {
    ...demoTerms,
    audience: 'anyone' as const,
    closing: { kind: 'two-weeks' as const },
    receipt: false,
    remindHours: 0,
    mayLoosen: { closing: true, identity: false, rights: false },
  };
  const preset = { sentence: 'For pay.', active: true, terms };
  await admin.client(putPreset, { params: { id: all }, body: { ...preset, name: 'Everyday' } });
  await admin.client(putPreset, {
    params: { id: pay },
    body: { ...preset, name: 'Pay', terms: { ...terms, departments: ['Pay office'] } },
  });
  const others = async (by: Worker) =>
    Object.fromEntries((await by.client(listPresets)).presets.map((one) => [one.name, one.others]));
  expect(await others(maren)).toEqual({ Everyday: false, Pay: true });
  expect(await others(tobias)).toEqual({ Everyday: false, Pay: false });
  await send(tobias, pay);
  expect(await answerOf(send(maren, pay))).toContain('another department’s');
  await send(maren, all);

  // A rule asks where its sender works; a rule may demand a preset that is another department's.
  const rule = {
    id: randomUUID(),
    name: 'Deck is not the pay office',
    sentence: 'Pay goes from the pay office.',
    state: 'on' as const,
    when: {
      allOf: [{ kind: 'sender-is' as const, addresses: [], departments: ['Deck'] }],
      anyOf: [],
      noneOf: [],
    },
    effects: [{ kind: 'stop' as const, sentence: 'Ask the pay office.' }],
  };
  await admin.client(putPolicyItem, {
    params: { id: rule.id },
    body: { item: { kind: 'rule', value: rule }, over: 0 },
  });
  const said = async () => ({
    ruled: {
      version: (await maren.client(getPolicy)).version,
      content: NO_CONTENT,
      withoutLock: [],
      confirmed: [],
      harmless: [],
    },
  });
  await send(maren, all, await said());
  await put(admin, maren, ['Deck']);
  expect(await codeOf(send(maren, all, await said()))).toBe('breaks-rule');
});
