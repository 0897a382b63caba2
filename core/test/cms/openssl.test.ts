/** CMS both ways: what OpenSSL makes we read, what we make OpenSSL reads; over every algorithm we claim. */
import { sealEnvelope, openEnvelope, readEnvelope } from '../../src/cms/enveloped-data';
import { CmsError } from '../../src/cms/errors';
import { signData } from '../../src/cms/sign';
import { checkSigners, readSignedData } from '../../src/cms/signed-data';
import { randomBytes, utf8 } from '../../src/bytes';
import { Openssl } from '../certificate/openssl';

const openssl = new Openssl();
const root = openssl.holder('root');
const people = {
  rsa: openssl.holder('rsa', 'rsa', root),
  'rsa-pss': openssl.holder('rsa-pss', 'rsa-pss', root),
  p256: openssl.holder('p256', 'p256', root),
  p384: openssl.holder('p384', 'p384', root),
  p521: openssl.holder('p521', 'p521', root),
  ed25519: openssl.holder('ed25519', 'ed25519', root),
};
type Kind = keyof typeof people;
const content = utf8('Content-Type: text/plain\r\n\r\nThe medical papers of Pell Anders, Łódź.\r\n');
const held = (...kinds: Kind[]) =>
  kinds.map((kind) => ({ certificate: people[kind].certificate, privateKey: people[kind].privateKey }));

describe('signing', () => {
  const signingTime = new Date('2026-11-25T09:00:00Z');
  test.each([
    ['rsa', false],
    ['rsa', true],
    ['rsa-pss', false],
    ['p256', false],
    ['p384', false],
    ['p521', false],
  ] as const)('OpenSSL finds our signature with %s right (PSS wanted: %s), attached and clear', async (kind, pss) => {
    const [signer] = held(kind) as [ReturnType<typeof held>[number]];
    const input = { content, signers: [{ ...signer, chain: [root.certificate] }], signingTime, pss };
    openssl.write('content', content);
    const clear = openssl.write('clear.p7s', await signData({ ...input, detached: true }));
    expect(
      openssl.run([
        'cms',
        '-verify',
        '-binary',
        '-inform',
        'DER',
        '-in',
        clear,
        '-content',
        'content',
        '-CAfile',
        root.certificateFile,
        '-out',
        'out',
        '-cades',
      ]),
    ).toBeDefined();
    const whole = openssl.write('whole.p7m', await signData({ ...input, detached: false }));
    openssl.run([
      'cms',
      '-verify',
      '-binary',
      '-inform',
      'DER',
      '-in',
      whole,
      '-CAfile',
      root.certificateFile,
      '-out',
      'out',
    ]);
    expect(openssl.read('out')).toEqual(content);
    const changed = openssl.write(
      'content2',
      content.map((octet, at) => (at === 40 ? octet ^ 1 : octet)),
    );
    expect(
      openssl.fails([
        'cms',
        '-verify',
        '-binary',
        '-inform',
        'DER',
        '-in',
        clear,
        '-content',
        changed,
        '-CAfile',
        root.certificateFile,
        '-out',
        'out',
      ]),
    ).toBe(true);
  });

  test.each(['rsa', 'p256', 'p384', 'p521', 'ed25519', 'rsa-pss'] as const)(
    'we check our own with %s',
    async (kind) => {
      const [signer] = held(kind) as [ReturnType<typeof held>[number]];
      const signed = readSignedData(await signData({ content, signers: [signer], signingTime, detached: true }));
      expect(signed.content).toBeUndefined();
      expect(await checkSigners(signed, content)).toMatchObject([
        { kind: 'signed', signingTime, certificate: { serial: signer.certificate.serial } },
      ]);
      expect(await checkSigners(signed, utf8('something else'))).toMatchObject([{ kind: 'changed' }]);
    },
  );

  test.each([
    ['rsa', ['-md', 'sha256'], 'SHA-256'],
    ['rsa', ['-md', 'sha1'], 'SHA-1'],
    ['rsa', ['-md', 'sha512'], 'SHA-512'],
    ['rsa', ['-keyopt', 'rsa_padding_mode:pss'], 'SHA-256'],
    ['rsa-pss', ['-keyopt', 'rsa_padding_mode:pss'], 'SHA-256'],
    ['p256', ['-md', 'sha256'], 'SHA-256'],
    ['p384', ['-md', 'sha384'], 'SHA-384'],
    ['p521', ['-md', 'sha512'], 'SHA-512'],
    ['rsa', ['-cades'], 'SHA-256'],
    ['rsa', ['-noattr'], 'SHA-256'],
    ['rsa', ['-keyid'], 'SHA-256'],
    ['rsa', ['-stream', '-indef'], 'SHA-256'],
  ] as const)('we find OpenSSL’s with %s %j right, and a changed letter wrong', async (kind, options, hash) => {
    openssl.write('content', content);
    const made = openssl.run([
      'cms',
      '-sign',
      '-binary',
      '-nodetach',
      '-in',
      'content',
      '-signer',
      people[kind].certificateFile,
      '-inkey',
      people[kind].keyFile,
      '-outform',
      'DER',
      ...options,
    ]);
    const signed = readSignedData(new Uint8Array(made));
    expect(signed.content).toEqual(content);
    expect(await checkSigners(signed)).toMatchObject([{ kind: 'signed', hash }]);
    const clear = readSignedData(
      new Uint8Array(
        openssl.run([
          'cms',
          '-sign',
          '-binary',
          '-in',
          'content',
          '-signer',
          people[kind].certificateFile,
          '-inkey',
          people[kind].keyFile,
          '-outform',
          'DER',
          ...options,
        ]),
      ),
    );
    expect(await checkSigners(clear, content)).toMatchObject([{ kind: 'signed' }]);
    const changed = content.map((octet, at) => (at === 40 ? octet ^ 1 : octet));
    // Written in a stream it carries its content, and another one beside it is refused outright.
    if (clear.content === undefined) expect(await checkSigners(clear, changed)).toMatchObject([{ kind: 'changed' }]);
    else await expect(checkSigners(clear, changed)).rejects.toMatchObject({ code: 'malformed' });
  });

  test('several signers are told apart, whoever has no certificate here is said to have none', async () => {
    openssl.write('content', content);
    const made = openssl.run([
      'cms',
      '-sign',
      '-binary',
      '-nodetach',
      '-nocerts',
      '-in',
      'content',
      '-signer',
      people.rsa.certificateFile,
      '-inkey',
      people.rsa.keyFile,
      '-signer',
      people.p256.certificateFile,
      '-inkey',
      people.p256.keyFile,
      '-outform',
      'DER',
    ]);
    const signed = readSignedData(new Uint8Array(made));
    const checks = await checkSigners(signed, signed.content, [people.p256.certificate]);
    expect(checks.map(({ kind }) => kind).sort()).toEqual(['no-certificate', 'signed']);
  });
});

describe('encrypting', () => {
  const ciphers = ['AES-256-GCM', 'AES-256-CBC'] as const;
  test.each(
    ciphers.flatMap((cipher) =>
      (
        [
          ['rsa', 'pkcs1'],
          ['rsa', 'oaep'],
          ['p256', 'oaep'],
          ['p384', 'oaep'],
          ['p521', 'oaep'],
        ] as const
      ).map(([kind, transport]) => [cipher, kind, transport] as const),
    ),
  )('OpenSSL opens %s for %s by %s', async (cipher, kind, transport) => {
    const sealed = openssl.write(
      'sealed',
      await sealEnvelope(content, [{ certificate: people[kind].certificate, transport }], cipher),
    );
    openssl.run([
      'cms',
      '-decrypt',
      '-binary',
      '-inform',
      'DER',
      '-in',
      sealed,
      '-recip',
      people[kind].certificateFile,
      '-inkey',
      people[kind].keyFile,
      '-out',
      'out',
    ]);
    expect(openssl.read('out')).toEqual(content);
  });

  test.each(ciphers)('one message for five, %s: each opens it, OpenSSL and we', async (cipher) => {
    const kinds = ['rsa', 'p256', 'p384', 'p521'] as const;
    const sealed = await sealEnvelope(
      content,
      kinds.map((kind) => ({ certificate: people[kind].certificate, transport: 'oaep' as const })),
      cipher,
    );
    openssl.write('sealed', sealed);
    for (const kind of kinds) {
      openssl.run([
        'cms',
        '-decrypt',
        '-binary',
        '-inform',
        'DER',
        '-in',
        'sealed',
        '-recip',
        people[kind].certificateFile,
        '-inkey',
        people[kind].keyFile,
        '-out',
        'out',
      ]);
      expect(openssl.read('out')).toEqual(content);
      expect(await openEnvelope(readEnvelope(sealed), held(kind))).toMatchObject({
        content,
        cipher,
        authenticated: cipher === 'AES-256-GCM',
        old: false,
      });
    }
    await expect(openEnvelope(readEnvelope(sealed), held('ed25519'))).rejects.toMatchObject({ code: 'not-for-us' });
  });

  test.each([
    ...[
      '-aes-128-cbc',
      '-aes-192-cbc',
      '-aes-256-cbc',
      '-aes-128-gcm',
      '-aes-192-gcm',
      '-aes-256-gcm',
      '-des3',
    ].flatMap((cipher) =>
      cipher === '-des3'
        ? ([['rsa', [cipher]]] as const)
        : ([
            ['rsa', [cipher]],
            ['p256', [cipher]],
          ] as const),
    ),
    ['rsa', ['-aes-256-cbc', '-keyopt', 'rsa_padding_mode:oaep']],
    ['rsa', ['-aes-256-gcm', '-keyopt', 'rsa_padding_mode:oaep', '-keyopt', 'rsa_oaep_md:sha256']],
    ['rsa', ['-aes-256-cbc', '-keyopt', 'rsa_padding_mode:oaep', '-keyopt', 'rsa_oaep_md:sha512']],
    [
      'rsa',
      [
        '-aes-256-cbc',
        '-keyopt',
        'rsa_padding_mode:oaep',
        '-keyopt',
        'rsa_oaep_md:sha256',
        '-keyopt',
        'rsa_mgf1_md:sha1',
      ],
    ],
    ['p384', ['-aes-256-cbc', '-keyopt', 'ecdh_kdf_md:sha384']],
    ['p521', ['-aes-256-cbc', '-keyopt', 'ecdh_kdf_md:sha512']],
    ['p256', ['-aes-256-cbc', '-keyopt', 'ecdh_kdf_md:sha256', '-aes256-wrap']],
    ['p256', ['-aes-128-cbc', '-aes128-wrap']],
    ['rsa', ['-aes-256-cbc', '-keyid']],
    ['p256', ['-aes-256-cbc', '-keyid']],
    ['rsa', ['-aes-256-cbc', '-stream', '-indef']],
  ] as const)('we open OpenSSL’s for %s with %j', async (kind, options) => {
    openssl.write('content', content);
    const all: readonly string[] = options;
    // Options of a recipient's key stand behind the recipient.
    const ofKey = all.filter((one, at) => one === '-keyopt' || all[at - 1] === '-keyopt');
    const made = new Uint8Array(
      openssl.run([
        'cms',
        '-encrypt',
        '-binary',
        '-in',
        'content',
        '-outform',
        'DER',
        ...all.filter((one) => !ofKey.includes(one)),
        '-recip',
        people[kind].certificateFile,
        ...ofKey,
      ]),
    );
    const opened = await openEnvelope(readEnvelope(made), held(kind));
    expect(Buffer.from(opened.content).toString()).toBe(Buffer.from(content).toString());
    expect(opened.old).toBe(all.includes('-des3'));
    expect(opened.authenticated).toBe(all.some((one) => one.endsWith('gcm')));
  });

  test.each([
    ['pkcs1', []],
    ['oaep', ['-keyopt', 'rsa_padding_mode:oaep', '-keyopt', 'rsa_oaep_md:sha256']],
  ] as const)('a key of 8,192 bits opens and signs (%s)', async (transport, options) => {
    const largest = openssl.holder('largest', 'rsa-8192', root);
    openssl.write('content', content);
    const made = new Uint8Array(
      openssl.run([
        'cms',
        '-encrypt',
        '-binary',
        '-in',
        'content',
        '-outform',
        'DER',
        '-aes-256-cbc',
        '-recip',
        largest.certificateFile,
        ...options,
      ]),
    );
    expect(Buffer.from((await openEnvelope(readEnvelope(made), [largest])).content)).toEqual(Buffer.from(content));
    const sealed = await sealEnvelope(content, [{ certificate: largest.certificate, transport }], 'AES-256-CBC');
    openssl.write('sealed', sealed);
    expect(
      openssl.run([
        'cms',
        '-decrypt',
        '-in',
        'sealed',
        '-inform',
        'DER',
        '-recip',
        largest.certificateFile,
        '-inkey',
        largest.keyFile,
      ]),
    ).toEqual(Buffer.from(content));
    const signed = openssl.run([
      'cms',
      '-sign',
      '-binary',
      '-nodetach',
      '-in',
      'content',
      '-signer',
      largest.certificateFile,
      '-inkey',
      largest.keyFile,
      '-outform',
      'DER',
    ]);
    expect((await checkSigners(readSignedData(new Uint8Array(signed)))).map(({ kind }) => kind)).toEqual(['signed']);
  });

  test('25 MB written in pieces of a kilobyte, with indefinite lengths, open', async () => {
    const large = randomBytes(65536);
    openssl.write('large', Buffer.concat(Array.from({ length: 400 }, () => large)));
    const made = new Uint8Array(
      openssl.run([
        'cms',
        '-encrypt',
        '-binary',
        '-in',
        'large',
        '-outform',
        'DER',
        '-stream',
        '-aes-256-cbc',
        '-recip',
        people.rsa.certificateFile,
      ]),
    );
    const { content: opened } = await openEnvelope(readEnvelope(made), held('rsa'));
    expect(opened.length).toBe(400 * 65536);
    expect(Buffer.compare(opened.subarray(-65536), large)).toBe(0);
  });

  test.each(['rsa', 'p256'] as const)(
    'with the wrong key for %s, and with changed bytes, nothing opens and nothing tells why',
    async (kind) => {
      for (const cipher of ciphers) {
        const sealed = await sealEnvelope(
          content,
          [{ certificate: people[kind].certificate, transport: 'pkcs1' }],
          cipher,
        );
        const envelope = readEnvelope(sealed);
        const other = openssl.holder(`other-${kind}-${cipher}`, kind, root);
        const wrong = openEnvelope(envelope, [{ certificate: people[kind].certificate, privateKey: other.privateKey }]);
        // With PKCS #1 v1.5 a wrong key gives a made-up content key, so that nobody learns from errors (RFC 3218 § 2.3.2);
        // by CBC one in 256 of these then ends in what looks like padding, and gives noise.
        const opened = await wrong.then(
          ({ content: noise, authenticated }) => ({ noise, authenticated }),
          (error: unknown) => error,
        );
        if (opened instanceof Error) expect(opened).toMatchObject({ code: 'not-opened' });
        else {
          expect(opened).toMatchObject({ authenticated: false });
          expect(Buffer.from((opened as { noise: Uint8Array }).noise).includes(Buffer.from(content))).toBe(false);
        }
        if (cipher === 'AES-256-GCM') {
          const body = envelope.body.map((octet, at) => (at === 5 ? octet ^ 1 : octet));
          await expect(openEnvelope({ ...envelope, body }, held(kind))).rejects.toMatchObject({ code: 'not-opened' });
        }
      }
    },
  );

  test('a signature is no envelope, and an envelope no signature', async () => {
    const signed = await signData({ content, signers: held('rsa'), signingTime: new Date(), detached: false });
    expect(() => readEnvelope(signed)).toThrow(CmsError);
    const sealed = await sealEnvelope(
      content,
      [{ certificate: people.rsa.certificate, transport: 'pkcs1' }],
      'AES-256-CBC',
    );
    expect(() => readSignedData(sealed)).toThrow(CmsError);
    await expect(sealEnvelope(content, [], 'AES-256-CBC')).rejects.toThrow(RangeError);
  });
});
