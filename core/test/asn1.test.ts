/**
 * BER in, DER out: what we write OpenSSL reads as we meant it, what OpenSSL writes we read; and no bytes from outside
 * hang, run away or throw anything untyped.
 */
import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { Asn1Error, bitsOf, type Element, integerOf, octetsOf, oidOf, readElement } from '../src/asn1/read';
import {
  bitString,
  boolean,
  element,
  explicit,
  implicit,
  integer,
  nullValue,
  octetString,
  oid,
  sequence,
  setOf,
  time,
  utf8String,
} from '../src/asn1/write';
import { type Bytes } from '../src/bytes';

const hex = (text: string): Bytes => new Uint8Array(Buffer.from(text.replace(/\s/g, ''), 'hex'));
const openssl = (args: string[], input: Uint8Array): Buffer =>
  execFileSync('openssl', args, { input, stdio: ['pipe', 'pipe', 'ignore'] });
const parsed = (bytes: Uint8Array): string => openssl(['asn1parse', '-inform', 'DER', '-i'], bytes).toString();
const codeOf = (bytes: Uint8Array, limits = {}): string => {
  try {
    readElement(bytes, limits);
    return 'read';
  } catch (error) {
    if (!(error instanceof Asn1Error)) throw error;
    return error.code;
  }
};

test.each([
  [0n, '020100'],
  [127n, '02017f'],
  [128n, '02020080'],
  [256n, '02020100'],
  [-1n, '0201ff'],
  [-128n, '020180'],
  [-129n, '0202ff7f'],
])('the integer %s is %s, as X.690 §8.3 spells it', (value, spelled) => {
  expect(Buffer.from(integer(value)).toString('hex')).toBe(spelled);
  expect(integerOf(readElement(hex(spelled)))).toBe(value);
});

test.each([
  ['1.2.840.113549', '06062a864886f70d'],
  ['2.5.29.17', '0603551d11'],
  ['2.999.3', '0603883703'],
  ['0.9.2342.19200300.100.1.25', '060a0992268993f22c640119'],
  ['1.3.6.1.5.5.7.3.4', '06082b06010505070304'],
])('the identifier %s is %s', (dotted, spelled) => {
  expect(Buffer.from(oid(dotted)).toString('hex')).toBe(spelled);
  expect(oidOf(readElement(hex(spelled)))).toBe(dotted);
});

test.each([['3.1'], ['1.40'], ['1'], ['1.02'], ['a.b'], ['']])('%j is no identifier', (dotted) =>
  expect(() => oid(dotted)).toThrow(RangeError),
);
test.each([['0600'], ['060180'], ['0602 8001'], ['0603 2a8001'], [`0b0b${'ff'.repeat(11)}`]])(
  '%s is refused as an identifier',
  (spelled) => expect(() => oidOf(readElement(hex(spelled)))).toThrow(Asn1Error),
);

test('any integer, and any identifier, comes back as it was', () => {
  fc.assert(
    fc.property(fc.bigInt({ min: -(1n << 520n), max: 1n << 520n }), (value) =>
      expect(integerOf(readElement(integer(value)))).toBe(value),
    ),
  );
  fc.assert(
    fc.property(
      fc.constantFrom(0, 1),
      fc.nat(39),
      fc.array(fc.nat(2 ** 31 - 1), { maxLength: 10 }),
      (top, second, rest) => {
        const dotted = [top, second, ...rest].join('.');
        expect(oidOf(readElement(oid(dotted)))).toBe(dotted);
      },
    ),
  );
});

test('OpenSSL reads what we write as we meant it', () => {
  const text = parsed(
    sequence(
      integer(300),
      oid('1.2.840.113549.1.7.2'),
      explicit(0, sequence(octetString(hex('c0ffee')), nullValue(), boolean(true))),
      setOf(utf8String('Łódź'), utf8String('a')),
      bitString(hex('a0'), 5),
      time(new Date('2026-11-24T10:11:12Z')),
      time(new Date('2061-01-02T03:04:05Z')),
      implicit(1, hex('01'), false),
    ),
  );
  for (const said of [
    'INTEGER           :012C',
    'OBJECT            :pkcs7-signedData',
    'cont [ 0 ]',
    'OCTET STRING      [HEX DUMP]:C0FFEE',
    'NULL',
    'BOOLEAN           :255',
    'UTF8STRING        :a',
    'BIT STRING',
    'UTCTIME           :261124101112Z',
    'GENERALIZEDTIME   :20610102030405Z',
    'cont [ 1 ]',
  ])
    expect(text).toContain(said);
  // A set stands in the order of its octets, whatever order it was given in.
  expect(setOf(utf8String('b'), utf8String('a'))).toEqual(setOf(utf8String('a'), utf8String('b')));
});

test('we read what OpenSSL writes, to the last element, and it is DER', () => {
  const request = [
    'req',
    '-x509',
    '-newkey',
    'ec',
    '-pkeyopt',
    'ec_paramgen_curve:P-256',
    '-nodes',
    '-keyout',
    '/dev/null',
    '-subj',
    '/CN=Łódź Ferries/emailAddress=a@larkmoor.example',
    '-utf8',
    '-days',
    '30',
    '-outform',
    'DER',
  ];
  const certificate = execFileSync('openssl', request, { stdio: ['ignore', 'pipe', 'ignore'] });
  const read = readElement(new Uint8Array(certificate));
  const count = (one: Element): number => 1 + one.children.reduce((sum, child) => sum + count(child), 0);
  expect(count(read)).toBe(parsed(certificate).trim().split('\n').length);
  expect(read.der).toBe(true);
  const [body, algorithm, signature] = read.children as [Element, Element, Element];
  expect(oidOf(algorithm.children[0]!)).toBe('1.2.840.10045.4.3.2');
  expect(bitsOf(signature).unused).toBe(0);
  // What is signed is exactly those bytes.
  expect(Buffer.compare(body.bytes, certificate.subarray(4, 4 + body.bytes.length))).toBe(0);
});

test('indefinite lengths and strings in pieces are read, and known not to be DER', () => {
  const streamed = hex('30 80 24 80 04 02 0102 24 80 04 01 03 0000 0000 02 01 05 0000');
  const read = readElement(streamed);
  expect([read.der, read.bytes.length, read.children.length]).toEqual([false, streamed.length, 2]);
  expect(octetsOf(read.children[0]!)).toEqual(hex('010203'));
  expect(readElement(hex('04810101')).der).toBe(false); // a length longer than it need be
  expect(() => octetsOf(readElement(hex('2403 020105')))).toThrow(Asn1Error);
  const enveloped = openssl(['cms', '-data_create', '-outform', 'DER', '-stream'], hex('c0ffee'));
  const [, explicitContent] = readElement(new Uint8Array(enveloped)).children as [Element, Element];
  expect(Buffer.from(octetsOf(explicitContent.children[0]!)).toString('hex')).toContain('c0ffee');
});

test.each([
  ['nothing', '', 'truncated'],
  ['a head alone', '30', 'truncated'],
  ['less than it says', '0403 0102', 'truncated'],
  ['more than it says', '0401 01 02', 'trailing'],
  ['a length of five octets', '0485 0000000001 01', 'bad-length'],
  ['four gigabytes', '0484 ffffffff', 'truncated'],
  ['an indefinite plain string', '0480 0000', 'bad-length'],
  ['an indefinite one that never ends', '3080 0201', 'truncated'],
  ['a child longer than its parent', '3003 040501', 'truncated'],
  ['a high tag', '1f8101 00', 'bad-tag'],
] as const)('%s is refused', (_, spelled, code) => expect(codeOf(hex(spelled))).toBe(code));

test('depth, number and size are limited', () => {
  let nested: Bytes = nullValue();
  for (let depth = 0; depth < 40; depth++) nested = sequence(nested);
  expect(codeOf(nested)).toBe('too-deep');
  expect(codeOf(nested, { maxDepth: 50 })).toBe('read');
  expect(codeOf(hex('3080'.repeat(5000)))).toBe('too-deep');
  expect(codeOf(sequence(...Array.from({ length: 20 }, nullValue)), { maxElements: 20 })).toBe('too-many');
  expect(codeOf(octetString(new Uint8Array(100)), { maxBytes: 50 })).toBe('too-large');
  expect(() => integerOf(readElement(element('universal', 2, false, new Uint8Array(2000))))).toThrow(Asn1Error);
});

test('whatever bytes come, the answer is a tree or a typed error', () => {
  const sound = sequence(
    integer(1),
    oid('1.2.840.113549.1.7.2'),
    explicit(0, sequence(octetString(hex('0102030405')), setOf(utf8String('x'), nullValue()))),
  );
  const walk = (one: Element): void => {
    for (const child of one.children) walk(child);
    for (const read of [octetsOf, integerOf, oidOf, bitsOf] as ((element: Element) => unknown)[]) {
      try {
        read(one);
      } catch (error) {
        if (!(error instanceof Asn1Error)) throw error;
      }
    }
  };
  const tryIt = (bytes: Bytes): void => {
    try {
      walk(readElement(bytes, { maxElements: 1000 }));
    } catch (error) {
      if (!(error instanceof Asn1Error)) throw error;
    }
  };
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => tryIt(new Uint8Array(bytes))),
    { numRuns: 3000 },
  );
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(sound.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
      (changes) => {
        const changed = sound.slice();
        for (const [at, value] of changes) changed[at] = value;
        tryIt(changed);
      },
    ),
    { numRuns: 5000 },
  );
});
