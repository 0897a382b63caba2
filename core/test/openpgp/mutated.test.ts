/**
 * A hundred thousand damaged inputs of OpenPGP: keys, messages, signatures, armour, packets, mail. Only typed errors,
 * no hang, no memory run-away; and what still opens is what was sealed.
 */
import { type Bytes, sameBytes, utf8 } from '../../src/bytes';
import { openOpenPgp } from '../../src/locks/openpgp/layers';
import { sealForOpenPgp } from '../../src/locks/openpgp/seal';
import { UnwrapError, unwrapMail } from '../../src/locks/unwrap';
import { MessageReadError } from '../../src/message/read';
import { armoured, armouredBlocks, onlyBlock } from '../../src/openpgp/armour';
import { readAutocrypt } from '../../src/openpgp/discovery';
import { OpenPgpError } from '../../src/openpgp/errors';
import { openPgpKeysIn, secretKeysIn } from '../../src/openpgp/in-file';
import { readCleartext } from '../../src/openpgp/cleartext';
import { factsOf, type OpenPgpKey, readOpenPgpKey, readSecretKey } from '../../src/openpgp/key';
import { type PrivateKey } from '../../src/openpgp/library';
import { makeOpenPgpKey } from '../../src/openpgp/make-key';
import { checkApart, openMessage, ringOf, sealMessage, signApart } from '../../src/openpgp/message';
import { looksLikePackets, messageKind, packetHeads } from '../../src/openpgp/packets';
import { judgeKey } from '../../src/openpgp/verdict';
import { readDamaged } from '../mutations';
import { Judges } from './judges';

const TYPED = [OpenPgpError, UnwrapError, MessageReadError];
const content = utf8('Content-Type: text/plain\r\n\r\nThe papers.\r\n');
const at = new Date(Date.now() - 60_000);
let secret: PrivateKey;
let key: OpenPgpKey;
beforeAll(async () => {
  secret = await readSecretKey(
    (
      await makeOpenPgpKey(
        'wide',
        { name: 'Nils Rook', addresses: ['underwriting@northquay.example'] },
        new Date(Date.now() - 86_400_000),
      )
    ).secret,
  );
  key = await factsOf(secret.toPublic());
});

const sealed = (): Promise<Bytes> => sealMessage(content, { signer: secret, recipients: [key], date: at });
const mail = (): Promise<Bytes> =>
  sealForOpenPgp({
    message: {
      messageId: 'a@b.example',
      from: { name: '', address: 'underwriting@northquay.example' },
      to: [{ name: '', address: 'm@larkmoor.example' }],
      cc: [],
      subject: 'x',
      date: at,
      reference: '',
      text: 'The papers.',
      html: '',
      files: [],
    },
    signer: secret,
    recipients: [key],
    form: 'mime',
    signedAt: at,
    neutralSubject: 'y',
  });

/** A seal holds or it doesn't: whatever opens is what was put in, octet for octet. */
async function opensUnchanged(bytes: Bytes): Promise<void> {
  const opened = await openMessage(bytes, [secret], ringOf([key]));
  if (opened.encrypted !== undefined && !sameBytes(opened.content, content))
    throw new Error('opened as something else');
}

const kinds: [string, number, () => Promise<Uint8Array> | Uint8Array, (bytes: Bytes) => unknown][] = [
  ['packets', 40_000, sealed, (bytes) => (looksLikePackets(bytes) ? messageKind(bytes) : packetHeads(bytes))],
  [
    'armour',
    30_000,
    async () => armoured('MESSAGE', await sealed()),
    (bytes) => [armouredBlocks(bytes), onlyBlock(bytes, 'MESSAGE')],
  ],
  [
    'Autocrypt fields',
    13_000,
    () => utf8(`addr=a@b.example; prefer-encrypt=mutual; keydata=${Buffer.from(key.bytes).toString('base64')}`),
    (bytes) => readAutocrypt(new TextDecoder().decode(bytes)),
  ],
  [
    'keys',
    4_000,
    () => key.bytes,
    async (bytes) =>
      judgeKey({
        key: await readOpenPgpKey(bytes),
        use: 'encrypt',
        address: 'underwriting@northquay.example',
        now: new Date(),
        compared: true,
        trusted: [key],
      }),
  ],
  ['files of keys', 2_000, () => armoured('PUBLIC KEY BLOCK', key.bytes), openPgpKeysIn],
  ['secret keys', 2_000, () => secret.write(), secretKeysIn],
  ['messages', 4_000, sealed, opensUnchanged],
  [
    'signatures',
    3_000,
    async () => (await signApart(content, secret, at)).signature,
    async (bytes) => checkApart(bytes, content, ringOf([key])),
  ],
  [
    'texts signed in the clear',
    1_000,
    () =>
      new Judges().sqop(
        [
          'inline-sign',
          '--as=clearsigned',
          new Judges().write('k', armoured('PRIVATE KEY BLOCK', secret.write() as Bytes)),
        ],
        'The papers.\n',
      ).out,
    async (bytes) => {
      const read = readCleartext(bytes);
      return read?.signature === undefined ? undefined : checkApart(read.signature, read.signed, ringOf([key]));
    },
  ],
  [
    'mails',
    1_000,
    mail,
    async (bytes) =>
      unwrapMail(bytes, [], (form, entity) => openOpenPgp(form, entity, { secret: [secret], known: ringOf([key]) })),
  ],
];

test('they are a hundred thousand', () => expect(kinds.reduce((sum, [, count]) => sum + count, 0)).toBe(100_000));

test.each(kinds)(
  '%s: %d of them',
  async (_, count, make, read) => {
    const sound = new Uint8Array(await make());
    await read(sound.slice());
    // No time is asserted on a shared machine; a hang would end the test by its own limit.
    await readDamaged(sound, count, read, TYPED);
  },
  180_000,
);
