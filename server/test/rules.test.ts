/** The office's rules at the server: kept with their versions, held against what is handed over, counted. */
import * as rulesApi from '@under-lock/contract/rules';
import { type Ruled } from '@under-lock/contract/rules';
import { putPreset } from '@under-lock/contract/handling';
import { addReader, dispatchMessage, getSent, giveAgain, withdrawGrants } from '@under-lock/contract/outgoing';
import { randomBytes } from '@under-lock/core/bytes';
import { LOOSEST_TERMS } from '@under-lock/core/handling/handling';
import { type Effect } from '@under-lock/core/rules/demand';
import { NO_CONTENT } from '@under-lock/core/rules/facts';
import { type Rule } from '@under-lock/core/rules/rule';
import { randomUUID } from 'node:crypto';
import PostalMime from 'postal-mime';
import { rows } from '../src/data/database';
import { tellOfRules } from '../src/rules/tell';
import { answerOf, codeOf, demoMessage, demoTerms, type House, openHouse, prepare, upload, type Worker } from './house';

let house: House;
let admin: Worker;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  admin = await house.worker('ines.varga', 'administrator');
  maren = await house.worker('maren.oduya');
});
afterAll(() => house.stop());

const rule = (effects: Effect[], over: Partial<Rule> = {}): Rule => ({
  id: randomUUID(),
  name: `Rule ${randomUUID().slice(0, 8)}`,
  sentence: 'Account numbers leave under a passcode only.',
  state: 'on',
  when: { allOf: [{ kind: 'finding-is', kinds: ['account'], sureOnly: false, least: 1 }], anyOf: [], noneOf: [] },
  effects,
  ...over,
});
const policy = () => admin.client(rulesApi.getPolicy);
const put = async (value: Rule, over?: number) =>
  admin.client(rulesApi.putPolicyItem, {
    params: { id: value.id },
    body: { item: { kind: 'rule', value }, over: over ?? (await policy()).version },
  });
const remove = (id: string) => admin.client(rulesApi.removePolicyItem, { params: { id } });
/** With one rule, which goes again. */
async function under<T>(one: Rule, act: () => Promise<T>): Promise<T> {
  await put(one);
  try {
    return await act();
  } finally {
    await remove(one.id);
  }
}

const ACCOUNT = { kind: 'account', of: 'iban', confidence: 'sure', part: 'text', count: 1 } as const;
const said = async (over: Partial<Ruled> = {}): Promise<Ruled> => ({
  version: (await policy()).version,
  content: { ...NO_CONTENT, found: [ACCOUNT] },
  withoutLock: [],
  confirmed: [],
  harmless: [],
  ...over,
});
async function dispatched(ruled: Ruled | undefined, over: { reference?: string; presetId?: string } = {}) {
  const { id, content, contentBlobId, dispatch } = await prepare(demoMessage({ files: [] }));
  await upload(maren.client, contentBlobId, content);
  const body = { ...dispatch, ...over, ...(ruled === undefined ? {} : { ruled }) };
  return { id, sent: await maren.client(dispatchMessage, { params: { id }, body }) };
}

test('without a rule nothing is asked; with one, whoever says nothing of it is told to plan anew', async () => {
  await dispatched(undefined);
  await under(rule([{ kind: 'wait', minutes: 1 }]), async () => {
    expect(await codeOf(dispatched(undefined))).toBe('rules-changed');
    expect(await codeOf(dispatched(await said({ version: 0 })))).toBe('rules-changed');
    await dispatched(await said());
  });
});

test('a rule that is off counts for nobody and is told to no worker', async () => {
  await under(rule([{ kind: 'stop', sentence: 'Never.' }], { state: 'off' }), async () => {
    await dispatched(undefined);
    expect((await policy()).rules).toHaveLength(1);
    expect((await maren.client(rulesApi.getPolicy)).rules).toEqual([]);
  });
});

test.each<[string, Effect, Partial<Ruled>, Partial<Ruled> | undefined]>([
  ['a stop', { kind: 'stop', sentence: 'Not so.' }, { confirmed: ['Not so.'] }, undefined],
  ['a question', { kind: 'ask', sentence: 'Is it theirs?' }, {}, { confirmed: ['Is it theirs?'] }],
  ['a reason', { kind: 'needs', what: 'reason' }, { reason: ' ' }, { reason: 'They asked for it.' }],
  ['a second person', { kind: 'release' }, {}, undefined],
  ['a lock', { kind: 'only-locks', locks: ['certificate'] }, {}, undefined],
  ['the handling', { kind: 'handling', terms: { ...LOOSEST_TERMS, watermark: true } }, {}, undefined],
])('%s is held to, whatever is said', async (_, effect, wrong, right) => {
  await under(rule([effect]), async () => {
    expect(await codeOf(dispatched(await said(wrong)))).toBe('breaks-rule');
    if (right !== undefined) await dispatched(await said(right));
    // Where its condition is not so, it asks nothing.
    await dispatched(await said({ content: NO_CONTENT }));
  });
});

test('a reference number is asked for, and named with the rule', async () => {
  const one = rule([{ kind: 'needs', what: 'reference' }]);
  await under(one, async () => {
    expect(await answerOf(dispatched(await said(), { reference: '' }))).toContain(`“${one.name}”`);
    await dispatched(await said(), { reference: 'LF-2026-1' });
  });
});

test('whom it goes to is the server’s to know, not the client’s to say', async () => {
  const when = (is: 'staff' | 'outsider' | 'new'): Rule['when'] => ({
    allOf: [{ kind: 'recipient-is', is }],
    anyOf: [],
    noneOf: [],
  });
  const stop: Effect[] = [{ kind: 'stop', sentence: 'Not so.' }];
  const nothing = { content: NO_CONTENT };
  await under(rule(stop, { when: when('outsider') }), async () =>
    expect(await codeOf(dispatched(await said(nothing)))).toBe('breaks-rule'),
  );
  // They were written to above.
  await under(rule(stop, { when: when('new') }), async () => void (await dispatched(await said(nothing))));
  const { addresses } = await maren.client(rulesApi.listNewTo, {
    body: {
      addresses: ['Nobody.Yet@postbox.example', 'pell.anders@postbox.example'],
    },
  });
  expect(addresses).toEqual(['nobody.yet@postbox.example']);
});

test('open it leaves where a rule permits it, with a reason, and where no other forbids it', async () => {
  const id = randomUUID();
  const preset = {
    name: 'Everyday',
    sentence: 'For most.',
    active: true,
    terms: {
      ...demoTerms,
      audience: 'anyone' as const,
      closing: { kind: 'two-weeks' as const },
      receipt: false,
      remindHours: 0,
      mayLoosen: { closing: true, identity: true, rights: true },
    },
  };
  await admin.client(putPreset, { params: { id }, body: preset });
  const open = async () => {
    const {
      id: messageId,
      content,
      contentBlobId,
      dispatch,
    } = await prepare(demoMessage({ files: [] }), {
      terms: { clear: true },
    });
    await upload(maren.client, contentBlobId, content);
    const body = { ...dispatch, presetId: id, ruled: await said() };
    return maren.client(dispatchMessage, { params: { id: messageId }, body });
  };
  const permits = rule([{ kind: 'may-leave-open' }]);
  await under(rule([{ kind: 'wait', minutes: 1 }]), async () => expect(await codeOf(open())).toBe('below-preset'));
  await under(permits, async () => {
    await open();
    await under(rule([{ kind: 'no-copies' }]), async () => expect(await codeOf(open())).toBe('breaks-rule'));
    await under(rule([{ kind: 'wait', minutes: 1 }]), async () => void (await open()));
  });
  await admin.client(putPreset, { params: { id }, body: { ...preset, active: false } });
});

test('access that is given later is held against the rules as they are then, by what was found when it went', async () => {
  const { id, sent } = await dispatched(undefined);
  const looked = rule([{ kind: 'needs', what: 'reference' }]);
  const withFound = await (async () => {
    await put(looked);
    const one = await dispatched(await said());
    await remove(looked.id);
    return one;
  })();
  expect(sent.already).toBe(false);
  const add = async (messageId: string, address: string) => {
    const more = await prepare(demoMessage({ files: [], to: [{ name: '', address }] }));
    const [{ readerShare: _, ...grant }] = more.dispatch.grants as [(typeof more.dispatch.grants)[0]];
    return maren.client(addReader, {
      params: { id: messageId },
      body: { grant, closesAt: more.dispatch.handling.closesAt, summary: randomBytes(64) },
    });
  };
  await under(rule([{ kind: 'release' }]), async () => {
    // Of what went before there were rules nothing is known to have been found.
    await add(id, 'first@postbox.example');
    expect(await codeOf(add(withFound.id, 'second@postbox.example'))).toBe('breaks-rule');
  });
  const outsiders = rule([{ kind: 'stop', sentence: 'Staff only.' }], {
    when: { allOf: [{ kind: 'recipient-at', domains: ['rival.example'] }], anyOf: [], noneOf: [] },
  });
  await under(outsiders, async () => {
    expect(await answerOf(add(id, 'spy@rival.example'))).toContain(`“${outsiders.name}”: Staff only.`);
    await add(id, 'third@postbox.example');
  });
  await add(withFound.id, 'second@postbox.example');
  const [grant] = (await maren.client(getSent, { params: { id: withFound.id } })).grants;
  await maren.client(withdrawGrants, { params: { id: withFound.id }, body: { grantIds: [grant!.id] } });
  const again = await prepare(demoMessage({ files: [], to: [{ name: '', address: grant!.address }] }));
  const [{ readerShare: _, ...split }] = again.dispatch.grants as [(typeof again.dispatch.grants)[0]];
  const give = () =>
    maren.client(giveAgain, {
      params: { id: withFound.id },
      body: {
        replaces: grant!.id,
        grant: split,
        closesAt: again.dispatch.handling.closesAt,
        summary: randomBytes(64),
      },
    });
  await under(rule([{ kind: 'only-locks', locks: ['certificate'] }]), async () =>
    expect(await codeOf(give())).toBe('breaks-rule'),
  );
  await give();
});

test('a preset that a rule demands is held to, and can’t go while it is', async () => {
  const id = randomUUID();
  const preset = {
    name: 'Pay',
    sentence: 'For pay.',
    active: true,
    terms: {
      ...demoTerms,
      audience: 'staff' as const,
      closing: { kind: 'two-weeks' as const },
      receipt: false,
      remindHours: 0,
      mayLoosen: { closing: false, identity: false, rights: false },
    },
  };
  await admin.client(putPreset, { params: { id }, body: preset });
  const presetId = randomUUID();
  await admin.client(putPreset, {
    params: { id: presetId },
    body: { ...preset, name: 'All', terms: { ...preset.terms, audience: 'anyone' } },
  });
  await under(rule([{ kind: 'preset', presetId: id }]), async () => {
    expect(await codeOf(dispatched(await said(), { presetId }))).toBe('breaks-rule');
    expect(await codeOf(admin.client(putPreset, { params: { id }, body: { ...preset, active: false } }))).toBe(
      'conflict',
    );
  });
  for (const one of [id, presetId])
    await admin.client(putPreset, { params: { id: one }, body: { ...preset, name: one, active: false } });
});

test('a message waits as long as a rule says, and its page names the rules that acted', async () => {
  const one = rule([
    { kind: 'wait', minutes: 30 },
    { kind: 'needs', what: 'reason' },
  ]);
  await under(one, async () => {
    const before = Date.now();
    const { id, sent } = await dispatched(await said({ reason: 'They asked for it.' }));
    expect(sent.sentAt!.getTime()).toBeGreaterThanOrEqual(before + 30 * 60_000 - 1_000);
    const page = await maren.client(getSent, { params: { id } });
    expect(page.rules).toEqual({ acted: [one.name], reason: 'They asked for it.' });
  });
});

test('who is told is told once, by mail, when the message has left; whoever does not work here never', async () => {
  const one = rule([{ kind: 'tell', addresses: [admin.account.address, 'stranger@elsewhere.example'] }]);
  await under(one, async () => {
    await dispatched(await said());
    const mailsTo = (address: string) => house.world.store.mails.filter(({ mailbox }) => mailbox === address);
    for (let time = 0; time < 2; time++) await tellOfRules(house.server.context);
    const mails = mailsTo(admin.account.address);
    expect(mails).toHaveLength(1);
    const { subject, text } = await PostalMime.parse(Buffer.from(mails[0]!.raw, 'base64'));
    expect(subject).toBe(`A rule acted on a message from ${maren.account.name}`);
    expect(text).toContain(`${maren.account.name} sent a message to 1 person`);
    expect(text).toContain(`“${one.name}”`);
    expect(text).not.toContain('Fitness');
    expect(mailsTo('stranger@elsewhere.example')).toEqual([]);
  });
});

test('every version stays with who and when; nobody overwrites what they have not seen; an earlier one can be had back', async () => {
  const one = rule([{ kind: 'wait', minutes: 1 }]);
  const { version } = await put(one);
  await put({ ...one, name: 'Renamed' });
  expect(await codeOf(put({ ...one, name: 'Lost' }, version))).toBe('conflict');
  const { versions } = await admin.client(rulesApi.listItemVersions, { params: { id: one.id } });
  expect(versions.map(({ item, by }) => [item?.kind === 'rule' ? item.value.name : undefined, by])).toEqual([
    ['Renamed', admin.account.name],
    [one.name, admin.account.name],
  ]);
  await put(versions[1]!.item!.value as Rule);
  expect((await policy()).rules.map(({ name }) => name)).toEqual([one.name]);
  await remove(one.id);
  expect((await admin.client(rulesApi.listItemVersions, { params: { id: one.id } })).versions).toHaveLength(4);
});

test('what a rule names can’t be removed; two of one name and patterns that can’t be taken are refused with the place', async () => {
  const words = { id: randomUUID(), name: 'Bids', words: ['tender'] };
  const item = { kind: 'words' as const, value: words };
  const { version: over } = await policy();
  await admin.client(rulesApi.putPolicyItem, { params: { id: words.id }, body: { item, over } });
  const speaks = rule([{ kind: 'wait', minutes: 1 }], {
    when: { allOf: [{ kind: 'says-words', lists: [words.id], parts: ['text'] }], anyOf: [], noneOf: [] },
  });
  await under(speaks, async () => {
    expect(await answerOf(remove(words.id))).toContain(`“${speaks.name}”`);
    expect(await codeOf(put(rule([{ kind: 'wait', minutes: 1 }], { name: speaks.name.toUpperCase() })))).toBe(
      'invalid-input',
    );
  });
  await remove(words.id);
  const pattern = { id: randomUUID(), name: 'Berths', pattern: 'B(\\d+', exact: false };
  const refused = admin.client(rulesApi.putPolicyItem, {
    params: { id: pattern.id },
    body: { item: { kind: 'pattern', value: pattern }, over: (await policy()).version },
  });
  expect(await answerOf(refused)).toContain('A bracket ( is not closed');
});

test('what acted, what would have and what stopped is counted, a draft once; what was called something else, too', async () => {
  const [on, tried] = [
    rule([{ kind: 'wait', minutes: 1 }]),
    rule([{ kind: 'stop', sentence: 'Not so.' }], { state: 'tried' }),
  ];
  await put(on);
  await put(tried);
  await dispatched(await said({ harmless: [{ kind: 'card', of: 'card', count: 2 }] }));
  await dispatched(await said());
  const draftId = randomUUID();
  for (let time = 0; time < 3; time++)
    await maren.client(rulesApi.tellStopped, { body: { draftId, rules: [on.id, on.id, randomUUID()] } });
  const { rules, seen } = await admin.client(rulesApi.getRuleFigures);
  expect(rules.find(({ id }) => id === on.id)).toMatchObject({ acted: 2, stopped: 1, would: 0 });
  expect(rules.find(({ id }) => id === tried.id)).toMatchObject({ acted: 0, stopped: 0, would: 2 });
  expect(rules).toHaveLength(new Set(rules.map(({ id }) => id)).size);
  expect(seen.find(({ kind }) => kind === 'card')).toEqual({ kind: 'card', of: 'card', found: 2, harmless: 2 });
  await remove(on.id);
  await remove(tried.id);
});

test('nobody but administrators says or looks at what they alone may', async () => {
  const one = rule([{ kind: 'wait', minutes: 1 }]);
  const body = { item: { kind: 'rule' as const, value: one }, over: 0 };
  const refusals = [
    maren.client(rulesApi.putPolicyItem, { params: { id: one.id }, body }),
    maren.client(rulesApi.removePolicyItem, { params: { id: one.id } }),
    maren.client(rulesApi.listItemVersions, { params: { id: one.id } }),
    maren.client(rulesApi.getRuleFigures),
  ];
  // All of them are waited for from the first moment: one that is refused while another is looked at is no surprise.
  for (const code of await Promise.all(refusals.map(codeOf))) expect(code).toBe('not-allowed');
});

test('of what was found the database holds kinds and counts', async () => {
  await under(rule([{ kind: 'wait', minutes: 1 }]), async () => {
    const { id } = await dispatched(await said());
    const [row] = await rows<{ ruled: unknown }>(house.server.context.db, 'SELECT ruled FROM messages WHERE id = $1', [
      id,
    ]);
    expect(row!.ruled).toEqual({
      version: expect.any(Number),
      acted: [expect.any(Object)],
      confirmed: [],
      content: { ...NO_CONTENT, found: [ACCOUNT] },
    });
  });
});
