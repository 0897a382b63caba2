import { deflateRawSync } from 'node:zlib';
import { utf8 } from '../src/bytes';
import { otherFile } from '../src/incoming/recognise';

const octets = (...given: number[]): Uint8Array => Uint8Array.from(given);
const padded = (start: Uint8Array, length = 5000): Uint8Array => {
  const out = new Uint8Array(length);
  out.set(start);
  return out;
};

/** The same every time, and without any order. */
function noise(length: number, seed: number): Uint8Array {
  const out = new Uint8Array(length);
  let state = seed;
  for (let at = 0; at < length; at++) {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    out[at] = state >>> 24;
  }
  return out;
}

describe('worth reading as mail', () => {
  test.each([
    ['a mail', 'From: a@b.example\r\nSubject: Hello\r\n\r\nText'],
    ['a mail from a mailbox file', 'From a@b.example Mon Nov 2 10:00:00 2026\nFrom: a@b.example\n\nText'],
    ['a mail with a blank line before it', '\r\nReceived: from x\r\nFrom: a@b.example\r\n\r\nText'],
    ['a mail with a byte order mark', '\ufeffFrom: a@b.example\r\n\r\nText'],
    ['a field with a blank before its colon', 'Subject : old\r\n\r\nText'],
    ['a mail whose body is binary', 'From: a@b.example\r\nContent-Transfer-Encoding: binary\r\n\r\n\0\x01\x02'],
    ['armour after some words', 'Please read this:\n\n-----BEGIN PGP MESSAGE-----\n\nabc\n-----END PGP MESSAGE-----'],
    ['base64 alone', 'MIIBpQYJKoZIhvcNAQcDoIIB\r\nljCCAZICAQAxggFNMIIBSQIB\r\n'],
  ])('%s', async (_, text) => expect(await otherFile(utf8(text))).toBeUndefined());

  test.each([
    ['a CMS object', octets(0x30, 0x82, 0x00, 0x02, 0x05, 0x00)],
    ['one of unsaid length', octets(0x30, 0x80, 0x06, 0x09)],
    ['OpenPGP packets', padded(octets(0xc1, 0xc0, 0x4c, 0x03))],
    ['ISO-2022-JP in the subject', utf8('Subject: \x1b$B4A;z\x1b(B\r\n\r\nText')],
  ])('%s', async (_, bytes) => expect(await otherFile(bytes)).toBeUndefined());
});

describe('named for what it is', () => {
  test.each([
    ['empty', octets()],
    ['picture', padded(octets(0xff, 0xd8, 0xff, 0xe0, 0, 16, 0x4a, 0x46, 0x49, 0x46))],
    ['picture', padded(octets(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52))],
    ['film', padded(octets(0, 0, 0, 0x18, 0x66, 0x74, 0x79, 0x70, 0x6d, 0x70, 0x34, 0x32))],
    ['sound', padded(octets(0x49, 0x44, 0x33, 4, 0, 0, 0, 0, 0, 0, 0xff, 0xfb, 0x90, 0x64))],
    ['paper', padded(utf8('%PDF-1.7\n%\xe2\xe3\n'))],
    ['compound', padded(octets(0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1))],
    ['archive', padded(octets(0x37, 0x7a, 0xbc, 0xaf, 0x27, 0x1c, 0, 4))],
    ['program', padded(octets(0x7f, 0x45, 0x4c, 0x46, 2, 1, 1))],
    ['text', utf8('Dear all,\n\nplease find the list below.\n')],
    ['unknown', padded(octets(0, 1, 2, 3, 4))],
    ['unknown', new Uint8Array(deflateRawSync(noise(20_000, 7)))],
  ])('%s', async (kind, bytes) => expect(await otherFile(bytes)).toBe(kind));

  test('noise is no mail, whichever it is', async () => {
    for (let seed = 1; seed <= 200; seed++) {
      const bytes = noise(3000, seed);
      // Half of all first octets could begin a packet; what begins with none of them is told apart.
      if (bytes[0]! < 0x80) expect(await otherFile(bytes)).not.toBeUndefined();
    }
  });
});
