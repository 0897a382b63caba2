/** What the office demands is held by every access, whichever way it comes to be, whatever a client says. */
import { randomUUID } from 'node:crypto';
import * as messageApi from '@under-lock/contract/outgoing';
import * as presetApi from '@under-lock/contract/handling';
import * as roomApi from '@under-lock/contract/room';
import * as writingApi from '@under-lock/contract/writing';
import { randomBytes } from '@under-lock/core/bytes';
import { type PresetTerms } from '@under-lock/core/handling/preset';
import { ALL_RIGHTS, type HandlingTerms } from '@under-lock/core/handling/handling';
import { answerProof, sealQuestion } from '@under-lock/core/identity/answer';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { splitKey } from '@under-lock/core/locks/room/split';
import { sealTo, shareContext } from '@under-lock/core/account/key-pair';
import {
  ANSWER,
  codeOf,
  demoMessage,
  demoTerms,
  giveKeyPair,
  type House,
  type KeyPair,
  openHouse,
  prepare,
  upload,
  type Worker,
} from './house';

let house: House;
let maren: Worker;
let tobias: Worker;
let ines: Worker;
let tobiasKey: KeyPair;
const PELL = 'pell.anders@postbox.example';
const presets: Record<'text' | 'asking' | 'staff', string> = {
  text: randomUUID(),
  asking: randomUUID(),
  staff: randomUUID(),
};
const terms: Record<keyof typeof presets, HandlingTerms> = {
  text: { ...demoTerms, rights: { ...ALL_RIGHTS } },
  asking: { ...demoTerms, question: true, rights: { ...ALL_RIGHTS } },
  staff: { ...demoTerms, check: 'question', audience: 'staff' },
};

beforeAll(async () => {
  house = await openHouse();
  [maren, tobias, ines] = [
    await house.worker('maren.oduya'),
    await house.worker('tobias.quill'),
    await house.worker('ines.varga', 'administrator'),
  ];
  await giveKeyPair(maren);
  tobiasKey = await giveKeyPair(tobias);
  for (const name of ['text', 'asking', 'staff'] as const) {
    const preset: PresetTerms = {
      ...terms[name],
      audience: terms[name].audience as 'anyone',
      closing: { kind: 'two-weeks' },
      receipt: false,
      remindHours: 0,
      mayLoosen: { closing: false, identity: false, rights: false },
    };
    await ines.client(presetApi.putPreset, {
      params: { id: presets[name] },
      body: { name, sentence: 'x', terms: preset, active: true },
    });
  }
}, 60_000);
afterAll(() => house.stop());

type Reader = messageApi.NewGrant['reader'];
type Channels = 'text' | 'email' | 'voice' | 'question' | 'text and question';

async function channel(kind: Channels, readerShare: Uint8Array<ArrayBuffer>, id: string): Promise<messageApi.Channel> {
  const question = {
    sealed: await sealQuestion('Which boat did we meet on?', readerShare, id),
    answerProof: await answerProof(ANSWER, readerShare),
  };
  if (kind === 'question') return { kind, question };
  if (kind === 'text and question') return { kind: 'text', target: '+447700900417', question };
  return kind === 'email' ? { kind, target: 'p.anders@islandmail.example' } : { kind, target: '+447700900417' };
}

async function sending(
  preset: keyof typeof presets,
  kind: Channels,
  change: (reader: Reader, grant: messageApi.NewGrant) => Promise<Partial<messageApi.NewGrant>> = async () => ({}),
) {
  const prepared = await prepare(demoMessage({ files: [] }), { terms: terms[preset] });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const [{ readerShare, ...grant }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const reader: Reader = { kind: 'link', readerShare, channel: await channel(kind, readerShare, grant.id) };
  const grants = [{ ...grant, reader, ...(await change(reader, { ...grant, reader })) }];
  const outcome = await codeOf(
    maren.client(messageApi.dispatchMessage, {
      params: { id: prepared.id },
      body: { ...prepared.dispatch, presetId: presets[preset], grants },
    }),
  );
  return { outcome, id: prepared.id, grantId: grant.id, readerShare, key: prepared.contentKey.key };
}
const toTobias =
  (messageId: string) =>
  async (_: Reader, grant: messageApi.NewGrant): Promise<Partial<messageApi.NewGrant>> => ({
    address: tobias.account.address,
    reader: {
      kind: 'account',
      accountId: tobias.account.id,
      sealedShare: await sealTo(tobiasKey, randomBytes(32), shareContext(grant.id)),
      sealedSummary: randomBytes(60 + messageId.length),
    },
  });

test.each([
  ['text', 'text', 'done'],
  ['text', 'email', 'below-preset'],
  ['text', 'question', 'below-preset'],
  ['text', 'voice', 'below-preset'],
  ['text', 'text and question', 'done'],
  ['asking', 'text', 'below-preset'],
  ['asking', 'question', 'below-preset'],
  ['asking', 'text and question', 'done'],
  ['staff', 'text', 'audience'],
  ['staff', 'question', 'audience'],
] as const)('at dispatch: under a preset for %s, by %s: %s', async (preset, kind, outcome) => {
  expect((await sending(preset, kind)).outcome).toBe(outcome);
});

test('given again: by no weaker way, to nobody else, and a staff-only message to no outsider', async () => {
  const again = async (sent: Awaited<ReturnType<typeof sending>>, kind: Channels, address = PELL): Promise<string> => {
    const id = randomUUID();
    const { readerShare, house: halves } = await splitKey(sent.key, { grantId: id, messageId: sent.id });
    const grant: messageApi.NewGrant = {
      id,
      address,
      name: '',
      role: 'to',
      ...halves,
      reader: { kind: 'link', readerShare, channel: await channel(kind, readerShare, id) },
    };
    return codeOf(
      maren.client(messageApi.giveAgain, {
        params: { id: sent.id },
        body: { replaces: sent.grantId, grant, closesAt: new Date(Date.now() + 86_400_000), summary: randomBytes(64) },
      }),
    );
  };
  const sent = await sending('asking', 'text and question');
  await maren.client(messageApi.withdrawGrants, { params: { id: sent.id }, body: { grantIds: [sent.grantId] } });
  expect(await again(sent, 'text')).toBe('below-preset');
  expect(await again(sent, 'question')).toBe('below-preset');
  expect(await again(sent, 'text and question', 'somebody.else@postbox.example')).toBe('invalid-input');
  expect(await again(sent, 'text and question')).toBe('done');
  const inside = await sending('staff', 'text', toTobias('x'));
  expect(inside.outcome).toBe('done');
  await maren.client(messageApi.withdrawGrants, { params: { id: inside.id }, body: { grantIds: [inside.grantId] } });
  expect(await again(inside, 'text', tobias.account.address)).toBe('audience');
  expect(await again(inside, 'text', PELL)).toBe('invalid-input');
});

test('another way: none that the office has not allowed, and a question that is demanded stays', async () => {
  const sent = await sending('asking', 'text and question');
  const change = async (kind: Channels): Promise<string> =>
    codeOf(
      maren.client(messageApi.changeChannel, {
        params: { id: sent.id, grantId: sent.grantId },
        body: await channel(kind, sent.readerShare, sent.grantId),
      }),
    );
  expect([await change('email'), await change('question'), await change('voice')]).toEqual([
    'below-preset',
    'below-preset',
    'below-preset',
  ]);
  expect(await change('text')).toBe('done');
  const { grants } = await maren.client(messageApi.getSent, { params: { id: sent.id } });
  expect(grants[0]!.check).toMatchObject({ kind: 'text', question: true });
});

test('a reply to all does not drop the question: whoever is asked one is named as not reachable', async () => {
  const prepared = await prepare(demoMessage({ files: [] }), {
    terms: terms.text,
    addresses: [PELL, 'office@saltmarsh.example', 'mira@saltmarsh.example'],
  });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const grants = await Promise.all(
    prepared.dispatch.grants.map(async ({ readerShare, ...grant }, at): Promise<messageApi.NewGrant> => ({
      ...grant,
      reader: {
        kind: 'link',
        readerShare,
        channel:
          at === 1
            ? await channel('text and question', readerShare, grant.id)
            : { kind: 'text', target: `+44770090041${at}` },
      },
    })),
  );
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, presetId: presets.text, grants },
  });
  const [{ id, readerShare }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const visitor = house.visitor();
  const proof = await shareProof(readerShare);
  await visitor(roomApi.sendPasscode, { params: { id }, body: { proof } });
  await visitor(roomApi.enterPasscode, {
    params: { id },
    body: { proof, passcode: /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0] },
  });
  const targets = await visitor(writingApi.listReplyTargets, { params: { id } });
  expect(targets.others.map(({ address }) => address)).toEqual(['mira@saltmarsh.example']);
  expect(targets.unreachable).toEqual([{ name: '', address: 'office@saltmarsh.example' }]);
});
