/** Presets: made by administrators, kept to by everybody; the server judges with the same rules as the plan. */
import * as presetApi from '@under-lock/contract/handling';
import * as messageApi from '@under-lock/contract/outgoing';
import { type PresetTerms } from '@under-lock/core/handling/preset';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { randomUUID } from 'node:crypto';
import { codeOf, demoMessage, type House, openHouse, prepare, upload, type Worker } from './house';

let house: House;
let ines: Worker;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  ines = await house.worker('ines.varga', 'administrator');
  maren = await house.worker('maren.oduya');
});
afterAll(() => house.stop());

const terms: PresetTerms = {
  closing: { kind: 'two-weeks' },
  check: 'text',
  question: false,
  rights: { ...NO_RIGHTS, reply: true },
  watermark: false,
  copies: false,
  clear: false,
  textOpen: false,
  audience: 'anyone',
  receipt: false,
  remindHours: 0,
  mayLoosen: { closing: false, identity: false, rights: false },
};
const make = async (over: Partial<PresetTerms> = {}, name = 'Health papers', active = true): Promise<string> => {
  const id = randomUUID();
  await ines.client(presetApi.putPreset, {
    params: { id },
    body: { name, sentence: 'For medical papers.', terms: { ...terms, ...over }, active },
  });
  return id;
};
const sending = async (presetId: string | undefined, options: Parameters<typeof prepare>[1] = {}): Promise<string> => {
  const prepared = await prepare(demoMessage({ files: [] }), options);
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  return maren
    .client(messageApi.dispatchMessage, {
      params: { id: prepared.id },
      body: { ...prepared.dispatch, ...(presetId === undefined ? {} : { presetId }) },
    })
    .then(
      () => 'sent',
      (problem: { code: string }) => problem.code,
    );
};

test('without presets a message needs none; with one it must name one that is in use', async () => {
  expect(await sending(undefined)).toBe('sent');
  const id = await make();
  expect(await sending(undefined)).toBe('below-preset');
  expect(await sending(randomUUID())).toBe('below-preset');
  expect(await sending(id, { terms: { rights: { ...NO_RIGHTS, reply: true } } })).toBe('sent');
  await ines.client(presetApi.putPreset, {
    params: { id },
    body: { name: 'Health papers', sentence: 'x', terms, active: false },
  });
  expect(await sending(id, { terms: { rights: NO_RIGHTS } })).toBe('below-preset');
});

test.each([
  ['a right more', {}, { terms: { rights: { ...NO_RIGHTS, reply: true, save: true } } }, 'below-preset'],
  ['a weaker check', {}, { terms: { rights: NO_RIGHTS, check: 'email' as const } }, 'below-preset'],
  [
    'a later closing',
    {},
    { terms: { rights: NO_RIGHTS }, closesAt: new Date(Date.now() + 30 * 86_400_000) },
    'below-preset',
  ],
  ['no watermark', { watermark: true }, { terms: { rights: NO_RIGHTS } }, 'below-preset'],
  [
    'tighter in every part',
    {},
    { terms: { rights: NO_RIGHTS, watermark: true, question: true }, closesAt: new Date(Date.now() + 86_400_000) },
    'sent',
  ],
  [
    'a right more where it may be loosened',
    { mayLoosen: { closing: true, identity: true, rights: true } },
    { terms: { rights: { ...NO_RIGHTS, save: true } }, closesAt: new Date(Date.now() + 30 * 86_400_000) },
    'sent',
  ],
  [
    'an outsider under staff only',
    { audience: 'staff' as const },
    { terms: { rights: NO_RIGHTS, audience: 'staff' as const } },
    'audience',
  ],
  [
    'an outsider under a handling that forgot it is for staff',
    { audience: 'staff' as const },
    { terms: { rights: NO_RIGHTS } },
    'below-preset',
  ],
])('%s: %j, wanted %j', async (_, over, options, outcome) => {
  expect(await sending(await make(over), options)).toBe(outcome);
});

test('one default, which is never a preset that is switched off', async () => {
  const [a, b] = [await make({}, 'A'), await make({}, 'B')];
  await ines.client(presetApi.setDefaultPreset, { body: { id: a } });
  await ines.client(presetApi.setDefaultPreset, { body: { id: b } });
  const defaults = async () =>
    (await maren.client(presetApi.listPresets)).presets.filter(({ isDefault }) => isDefault).map(({ id }) => id);
  expect(await defaults()).toEqual([b]);
  await ines.client(presetApi.putPreset, {
    params: { id: b },
    body: { name: 'B', sentence: 'x', terms, active: false },
  });
  expect(await defaults()).toEqual([]);
  await expect(ines.client(presetApi.setDefaultPreset, { body: { id: b } })).rejects.toMatchObject({
    code: 'not-found',
  });
});

test('workers see what is in use, in the office’s order; an order that misses one is refused', async () => {
  const off = await make({}, 'Off', false);
  const ids = (await ines.client(presetApi.listPresets)).presets.map(({ id }) => id);
  expect(ids).toContain(off);
  const turned = [...ids].reverse();
  await ines.client(presetApi.orderPresets, { body: { ids: turned } });
  expect((await ines.client(presetApi.listPresets)).presets.map(({ id }) => id)).toEqual(turned);
  const active = (await ines.client(presetApi.listPresets)).presets
    .filter((preset) => preset.active)
    .map(({ id }) => id);
  expect((await maren.client(presetApi.listPresets)).presets.map(({ id }) => id)).toEqual(active);
  expect(active).not.toContain(off);
  await expect(ines.client(presetApi.orderPresets, { body: { ids: turned.slice(1) } })).rejects.toMatchObject({
    code: 'conflict',
  });
});

test('a message keeps its preset’s name when the preset goes', async () => {
  const id = await make({}, 'Short-lived');
  const prepared = await prepare(demoMessage({ files: [] }), { terms: { rights: NO_RIGHTS } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, presetId: id },
  });
  await ines.client(presetApi.deletePreset, { params: { id } });
  expect((await maren.client(messageApi.getSent, { params: { id: prepared.id } })).presetName).toBe('Short-lived');
});

test('what is changed afterwards keeps to the preset too: the date, the way, an access given again', async () => {
  const id = await make();
  const prepared = await prepare(demoMessage({ files: [] }), { terms: { rights: NO_RIGHTS } });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, presetId: id },
  });
  const [grant] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const late = new Date(Date.now() + 40 * 86_400_000);
  const params = { id: prepared.id };
  await expect(
    maren.client(messageApi.moveClosing, { params, body: { grantIds: [grant.id], closesAt: late } }),
  ).rejects.toMatchObject({ code: 'below-preset' });
  expect(
    await maren.client(messageApi.moveClosing, {
      params,
      body: { grantIds: [grant.id], closesAt: new Date(Date.now() + 86_400_000) },
    }),
  ).toEqual({ moved: 1 });
  await expect(
    maren.client(messageApi.changeChannel, {
      params: { ...params, grantId: grant.id },
      body: { kind: 'email', target: 'p.anders@islandmail.example' },
    }),
  ).rejects.toMatchObject({ code: 'below-preset' });
  await maren.client(messageApi.withdrawGrants, { params, body: { grantIds: [grant.id] } });
  const again = {
    replaces: grant.id,
    grant: { ...(await prepare(demoMessage({ files: [] }))).dispatch.grants[0]!, id: randomUUID() },
    summary: new Uint8Array(64),
  };
  await expect(
    maren.client(messageApi.giveAgain, { params, body: { ...again, closesAt: late } }),
  ).rejects.toMatchObject({ code: 'below-preset' });
  await maren.client(messageApi.giveAgain, { params, body: { ...again, closesAt: new Date(Date.now() + 86_400_000) } });
});

describe('a preset that is changed after sending', () => {
  const strict = { mayLoosen: { closing: false, identity: false, rights: false } };
  const looser = { mayLoosen: { closing: true, identity: false, rights: false } };
  const inDays = (days: number): Date => new Date(Date.now() + days * 86_400_000);
  let preset: string;
  let message: string;
  let grantId: string;
  const save = (over: Partial<PresetTerms>, alsoHeld: boolean): Promise<unknown> =>
    ines.client(presetApi.putPreset, {
      params: { id: preset },
      body: { name: 'Held to', sentence: 'x', terms: { ...terms, ...strict, ...over }, active: true, alsoHeld },
    });
  const move = (days: number): Promise<string> =>
    codeOf(
      maren.client(messageApi.moveClosing, {
        params: { id: message },
        body: { grantIds: [grantId], closesAt: inDays(days) },
      }),
    );
  const otherNumber = (kind: 'text' | 'email'): Promise<string> =>
    codeOf(
      maren.client(messageApi.changeChannel, {
        params: { id: message, grantId },
        body: { kind, target: kind === 'text' ? '+447700900499' : 'other@elsewhere.example' },
      }),
    );
  const told = async () => (await maren.client(messageApi.getSent, { params: { id: message } })).presetTerms;

  beforeEach(async () => {
    preset = await make(strict, `Held to ${randomUUID()}`.slice(0, 60));
    const prepared = await prepare(demoMessage({ files: [] }), { terms: { rights: NO_RIGHTS } });
    [message, grantId] = [prepared.id, prepared.dispatch.grants[0]!.id];
    await upload(maren.client, prepared.contentBlobId, prepared.content);
    await maren.client(messageApi.dispatchMessage, {
      params: { id: message },
      body: { ...prepared.dispatch, presetId: preset },
    });
  });

  test('leaves what was sent under it as it was, stricter or looser', async () => {
    await save({ closing: { kind: 'end-of-today' }, question: true }, false);
    expect([await move(10), await otherNumber('text')]).toEqual(['done', 'done']);
    await save({ ...looser, check: 'email' }, false);
    expect([await move(20), await otherNumber('email')]).toEqual(['below-preset', 'below-preset']);
    expect(await told()).toMatchObject({ closing: { kind: 'two-weeks' }, check: 'text' });
  });

  test('counts for what was sent before where the office says so, and the latest such word holds', async () => {
    await save({ closing: { kind: 'end-of-today' }, question: true }, true);
    expect([await move(10), await otherNumber('text')]).toEqual(['below-preset', 'below-preset']);
    await save(looser, false);
    expect(await told()).toMatchObject({ closing: { kind: 'end-of-today' }, question: true });
    await save({ ...looser, check: 'email' }, true);
    expect([await move(20), await otherNumber('email')]).toEqual(['done', 'done']);
  });

  test('is held to still when it has been removed', async () => {
    await ines.client(presetApi.deletePreset, { params: { id: preset } });
    expect([await move(20), await move(10)]).toEqual(['below-preset', 'done']);
  });

  test('what goes out after a change goes under the change, whatever is held', async () => {
    await save({ question: true }, false);
    expect(await sending(preset, { terms: { rights: NO_RIGHTS } })).toBe('below-preset');
  });
});
