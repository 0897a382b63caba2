/** Where keys are looked for, as the drafts have it; fingerprints in every form; armour and packets under bad input. */
import { utf8 } from '../../src/bytes';
import { armoured, armouredBlocks, onlyBlock } from '../../src/openpgp/armour';
import { autocryptField, hkpUrl, readAutocrypt, wkdHash, wkdUrls, zBase32 } from '../../src/openpgp/discovery';
import { asUri, inWords } from '../../src/openpgp/fingerprint';
import { looksLikePackets, messageKind, packetHeads } from '../../src/openpgp/packets';

test('the name under which a directory keeps an address is that of the draft’s example', () => {
  // draft-koch-openpgp-webkey-service §3.1.
  expect(wkdHash('Joe.Doe')).toBe('iy9q119eutrkn8s1mk4r39qejnbu3n5q');
  expect(wkdUrls('Joe.Doe@Example.ORG')).toEqual([
    'https://openpgpkey.example.org/.well-known/openpgpkey/example.org/hu/iy9q119eutrkn8s1mk4r39qejnbu3n5q?l=Joe.Doe',
    'https://example.org/.well-known/openpgpkey/hu/iy9q119eutrkn8s1mk4r39qejnbu3n5q?l=Joe.Doe',
  ]);
  expect(wkdUrls('no address')).toEqual([]);
  // RFC 6189 §5.1.6 spells bits, the last filled up.
  expect(zBase32(Uint8Array.of(0xf0, 0xbf, 0xc7))).toBe('6n9hq');
  expect(hkpUrl('http://keys.example', 'a+b@c.example')).toBe(
    'http://keys.example/pks/lookup?op=get&options=mr&search=a%2Bb%40c.example',
  );
});

test('the Autocrypt field is read back as it was written, and passed over where the standard says so', () => {
  const field = autocryptField('maren@larkmoor.example', new Uint8Array(300).fill(7));
  expect(field.split('\r\n').every((line) => line.length <= 78)).toBe(true);
  const value = field
    .slice('Autocrypt: '.length)
    .replace(/\r\n (?=.)/g, ' ')
    .trim();
  expect(readAutocrypt(value)).toEqual({
    address: 'maren@larkmoor.example',
    key: new Uint8Array(300).fill(7),
    prefersEncryption: true,
  });
  expect(readAutocrypt(value.replace('prefer-encrypt=mutual', '_new=1'))).toMatchObject({ prefersEncryption: false });
  for (const bad of [
    value.replace('prefer-encrypt', 'unknown'),
    value.replace('addr=maren@larkmoor.example', 'addr=x'),
    'addr=a@b.example; keydata=',
    'addr=a@b.example; keydata=!!',
    '',
    'x'.repeat(70_000),
  ])
    expect(readAutocrypt(bad)).toBeUndefined();
});

test('a fingerprint in words, as what a picture says', () => {
  const v4 = '6c7fe42b1a5d1e0b0c0d3a4e5f60718293a4b5c6';
  expect(inWords(v4)).toHaveLength(15);
  expect(inWords(`${v4}${v4.slice(0, 24)}`)).toHaveLength(24);
  // Eleven bits a word: the first of the list is nought, the last all ones.
  expect(inWords('00'.repeat(20)).every((word) => word === 'abandon')).toBe(true);
  expect(
    inWords('ff'.repeat(20))
      .slice(0, 14)
      .every((word) => word === 'zoo'),
  ).toBe(true);
  expect(asUri(v4)).toBe(`openpgp4fpr:${v4.toUpperCase()}`);
});

describe('armour', () => {
  const block = armoured('MESSAGE', utf8('hello armour'));
  const text = new TextDecoder().decode(block);
  test('comes back, with and without its checksum, header lines and empty line', () => {
    for (const form of [
      text,
      text.replace(/\r\n/g, '\n'),
      text.replace(/=.{4}\r\n/, ''),
      text.replace('-----\r\n\r\n', '-----\r\nVersion: 1\r\nComment: x\r\n\r\n'),
      `\r\n${text}\r\n\t`,
    ])
      expect(onlyBlock(utf8(form), 'MESSAGE')).toEqual(utf8('hello armour'));
  });
  test('is no whole block with text around it, cut off, or of another kind', () => {
    for (const form of [
      `x${text}`,
      `${text}x`,
      text.slice(0, -20),
      text.replace('END PGP MESSAGE', 'END PGP SIGNATURE'),
    ])
      expect(onlyBlock(utf8(form), 'MESSAGE')).toBeUndefined();
    expect(onlyBlock(block, 'SIGNATURE')).toBeUndefined();
  });
  test('several are found where text stands between', () =>
    expect(armouredBlocks(utf8(`Hello\n${text}and\n${text}`)).map(({ kind, bytes }) => [kind, bytes.length])).toEqual([
      ['MESSAGE', 12],
      ['MESSAGE', 12],
    ]));
});

describe('packets', () => {
  test('lengths of every form are read, and lies refused', () => {
    const heads = (...octets: number[]) =>
      packetHeads(Uint8Array.from(octets)).map(({ tag, from, to }) => [tag, from, to]);
    expect(heads(0xd2, 2, 1, 1)).toEqual([[18, 2, 4]]);
    expect(packetHeads(Uint8Array.of(0xd2, 0xc0, 0x00, ...new Uint8Array(192)))).toMatchObject([
      { tag: 18, from: 3, to: 195 },
    ]);
    // Partial lengths (§4.2.1.4): one octet, then the rest.
    expect(heads(0xd2, 0xe0, 9, 1, 8)).toEqual([[18, 2, 5]]);
    expect(heads(0x88, 1, 7)).toEqual([[2, 2, 3]]);
    expect(heads(0x8b, 1, 2, 3)).toEqual([[2, 1, 4]]);
    for (const bad of [[0x12], [0xd2], [0xd2, 5, 1], [0xd2, 0xff, 0, 0], [0xd2, 0xe0], [0x89, 0]])
      expect(() => heads(...bad)).toThrow(expect.objectContaining({ code: 'malformed' }) as Error);
  });
  test('what is readable beside something encrypted is readable', () => {
    expect(messageKind(Uint8Array.of(0xc1, 1, 3, 0xd2, 1, 1))).toBe('encrypted');
    for (const readable of [
      [0xd2, 1, 1],
      [0xcb, 1, 1],
      [0xc1, 1, 3, 0xcb, 1, 1, 0xd2, 1, 1],
      [0xc1, 1, 3, 0xd2, 1, 1, 0xcb, 1, 1],
    ])
      expect(messageKind(Uint8Array.from(readable))).toBe('readable');
    expect(() => messageKind(new Uint8Array(0))).toThrow();
  });
  test('mail and certificates are no packets', () => {
    for (const bytes of [utf8('From: a@b.example'), Uint8Array.of(0x30, 0x82), new Uint8Array(0)])
      expect(looksLikePackets(bytes)).toBe(false);
    expect(looksLikePackets(Uint8Array.of(0x99, 1))).toBe(true);
  });
});
