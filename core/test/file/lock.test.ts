/** The locked file as a lock: what the plan says of it, the mail it makes, the note around it, the office's rules. */
import { type Bytes, utf8 } from '../../src/bytes';
import { LOOSEST_TERMS, NO_RIGHTS } from '../../src/handling/handling';
import { assessFile } from '../../src/locks/file/assess';
import { coverText, isCover, ourTemplate } from '../../src/locks/file/cover';
import { coverProblem } from '../../src/locks/file/cover-rules';
import { isPackedAlready, lockedFileName } from '../../src/locks/file/name';
import { openContainer } from '../../src/locks/file/open';
import {
  exceptionFor,
  exceptionKey,
  type FileRules,
  fileRulesProblem,
  largestFor,
  OUR_RULES,
  wayFor,
  withException,
} from '../../src/locks/file/rules';
import { type FileSealInput, sealInFile } from '../../src/locks/file/seal';
import { CONTAINERS, type FileWay, isExtension, TELLINGS, USUAL_WAY } from '../../src/ways/file-way';
import { lockKinds } from '../../src/locks/list';
import {
  type AssessmentContext,
  type KnownFileWay,
  type Leaving,
  type PlannedHandling,
  type Recipient,
} from '../../src/locks/lock';
import { type MessageContent } from '../../src/message/content';
import { recogniseFileMail } from '../../src/locks/file/recognise-mail';
import { buildMessage } from '../../src/message/build';
import { readEntity } from '../../src/message/entity';
import { writeZip } from '../../src/zip/write';
import { readMessage } from '../../src/message/read';
import { LANGUAGES } from '../../src/language';
import { planDelivery } from '../../src/outgoing/delivery-plan';
import { readDirectory } from '../../src/zip/directory';

const date = new Date('2026-11-25T14:30:00Z');
const message: MessageContent = {
  messageId: 'a@larkmoor.example',
  from: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  to: [{ name: 'Pell Anders', address: 'pell.anders@postbox.example' }],
  cc: [],
  subject: 'Medical paper',
  date,
  reference: 'CR/2611',
  text: 'Fit for duty.',
  html: '',
  files: [{ name: 'paper.txt', type: 'text/plain', bytes: utf8('Fit.') }],
};
const materials: FileSealInput['materials'] = {
  fonts: () => Promise.reject(new Error('not asked')),
  paper: 'a4',
  template: () => Promise.resolve('<!doctype html>\n<html lang="und"><main></main><!--sealed--></html>'),
};
const input = (way: Partial<FileWay> = {}, over: Partial<FileSealInput> = {}): FileSealInput => ({
  message,
  way: { ...USUAL_WAY, ...way },
  password: 'tide-harbour-lantern',
  recipient: message.to[0]!,
  language: 'en',
  officeName: 'Larkmoor Ferries',
  templates: {},
  storedTypes: [],
  zone: 'Europe/Lisbon',
  neutralSubject: 'A confidential message from Larkmoor Ferries',
  rights: NO_RIGHTS,
  materials,
  ...over,
});
const sealed = async (way: Partial<FileWay> = {}, over: Partial<FileSealInput> = {}): Promise<MessageContent> =>
  readMessage(await sealInFile(input(way, over)));
const about = { sender: message.from, recipient: message.to[0]!, officeName: 'Larkmoor Ferries', templates: {} };

describe('locked files beside a text that stays as it was written', () => {
  const leaving = {
    sender: message.from,
    recipients: message.to,
    officeName: 'Larkmoor Ferries',
    look: { texts: {} },
    fileRules: OUR_RULES,
    template: '',
  } as unknown as Leaving;
  const recognised = async (mail: MessageContent) => recogniseFileMail(readEntity(buildMessage(mail)), leaving);
  const files = { scope: 'files' as const };

  test('keeps its formatting, with the note below it in both forms', async () => {
    const mail = await sealed(files, { message: { ...message, html: '<p>Fit for <b>duty</b>.</p>' } });
    expect(mail.subject).toBe(message.subject);
    expect(mail.html).toContain('<p>Fit for <b>duty</b>.</p><hr><p>Dear Pell Anders');
    expect(mail.text).toContain('Fit for duty.\n\n--\nDear Pell Anders');
    expect(await recognised(mail)).toEqual({ keeps: 'files', weak: false, containers: ['zip'] });
  });

  test('what is locked already goes along as it is, if that is wanted, and the mail still keeps its files', async () => {
    const lock = { cipher: 'aes-256' as const, password: 'pearl-otter-meadow' };
    const theirs = {
      name: 'theirs.zip',
      type: 'application/zip',
      bytes: await writeZip({ files: message.files, lock, date, isPacked: () => false }),
    };
    const both = { ...message, files: [theirs, ...message.files] };
    const mail = await sealed(files, { message: both, lockedStay: true });
    expect(mail.files.map(({ name }) => name).slice(1)).toEqual(['theirs.zip']);
    expect(mail.files[1]!.bytes).toEqual(theirs.bytes);
    expect(await recognised(mail)).toEqual({ keeps: 'files', weak: false, containers: ['zip', 'zip'] });
    expect((await sealed(files, { message: both })).files).toHaveLength(1);
    await expect(sealed(files, { message: { ...message, files: [theirs] }, lockedStay: true })).rejects.toThrow(
      RangeError,
    );
  });

  test('with a readable file among them it is no such mail; alone it is only packed', async () => {
    const mail = await sealed(files);
    for (const name of ['open.txt', 'open.pdf', 'open.html'])
      expect(
        await recognised({ ...mail, files: [...mail.files, { name, type: 'text/plain', bytes: utf8('Readable.') }] }),
      ).toBeUndefined();
    const open = { name: 'open.txt', type: 'text/plain', bytes: utf8('Readable.') };
    for (const html of ['', '<p>Fit.</p>'])
      expect(await recognised({ ...mail, html, files: [open] })).toEqual({ keeps: 'nothing', weak: false });
  });

  test('a file within its formatted text is not taken for text', async () => {
    const mail = buildMessage({ ...(await sealed(files)), html: '<p>Fit.</p>' });
    const hidden = new TextDecoder('latin1').decode(mail).replace('text/html;', 'image/png;');
    expect(
      await recogniseFileMail(readEntity(Uint8Array.from(Buffer.from(hidden, 'latin1'))), leaving),
    ).toBeUndefined();
  });
});

describe('the mail around it', () => {
  test.each(['zip', 'page'] as const)(
    'everything in a %s: outside stands a neutral subject and the note, and nothing else',
    async (container) => {
      const mail = await sealed({ container });
      expect(mail).toMatchObject({
        subject: 'A confidential message from Larkmoor Ferries',
        reference: '',
        html: '',
        from: message.from,
        to: message.to,
      });
      expect(mail.files).toHaveLength(1);
      expect(isCover(mail.text, { ...about, fileName: mail.files[0]!.name, container })).toBe(true);
      expect(isCover(`${mail.text}\nFit for duty.`, { ...about, fileName: mail.files[0]!.name, container })).toBe(
        false,
      );
      const { files } = await openContainer(mail.files[0]!.bytes, 'tide-harbour-lantern');
      expect(files.map(({ name, bytes }) => [name, new TextDecoder().decode(bytes)])).toEqual([['paper.txt', 'Fit.']]);
    },
  );

  test('the message inside is a page or a mail file, as the other side can open it', async () => {
    const inside = async (form: FileWay['form']) =>
      (await openContainer((await sealed({ form })).files[0]!.bytes, 'tide-harbour-lantern')).message;
    expect(await inside('html')).toMatchObject({
      kind: 'page',
      html: expect.stringContaining('Fit for duty.') as string,
    });
    expect(await inside('eml')).toMatchObject({
      kind: 'mail',
      content: { subject: 'Medical paper', text: expect.stringContaining('Fit for duty.') as string, files: [] },
    });
  });

  test('only the files: text and subject stay readable, and the note stands under them', async () => {
    const mail = await sealed({ scope: 'files' });
    expect(mail.subject).toBe('Medical paper');
    expect(mail.text).toMatch(/^Fit for duty\.\s+--\s+Dear Pell Anders/);
    expect(readDirectory(mail.files[0]!.bytes).map(({ name }) => name)).toEqual(['paper.txt']);
    await expect(sealInFile(input({ scope: 'files' }, { message: { ...message, files: [] } }))).rejects.toBeInstanceOf(
      RangeError,
    );
  });

  test('only packed: the note says that nothing is protected', async () => {
    const mail = await sealed({}, { password: undefined });
    expect(mail.text).toContain('They are not protected');
    expect((await openContainer(mail.files[0]!.bytes)).open).toBe(true);
  });

  test('hidden names are hidden, and opened without another step', async () => {
    const {
      files: [file],
    } = await sealed({ hideNames: true });
    expect(readDirectory(file!.bytes).map(({ name }) => name)).toEqual(['contents.zip']);
    expect((await openContainer(file!.bytes, 'tide-harbour-lantern')).files.map(({ name }) => name)).toEqual([
      'paper.txt',
    ]);
  });

  test('another ending goes as plain octets, and the note says what to do', async () => {
    const {
      files: [file],
      text,
    } = await sealed({ extension: 'zi_' });
    expect(file).toMatchObject({ type: 'application/octet-stream', name: expect.stringMatching(/\.zi_$/) as string });
    expect(text).toContain('change the ending to “.zip”');
  });
});

describe('the note', () => {
  const every = LANGUAGES.flatMap((language) =>
    CONTAINERS.flatMap((container) => TELLINGS.map((telling) => ({ language, container, telling }))),
  );
  test.each(every)(
    '%o says whose file it is, how its password comes and how it opens',
    ({ language, container, telling }) => {
      const text = coverText({ ...about, language, container, telling, fileName: `2026.${container}` });
      expect(text).not.toMatch(/[{}]|undefined/);
      for (const said of ['Maren Oduya', 'maren.oduya@larkmoor.example', `2026.${container}`, 'Pell Anders'])
        expect(text).toContain(said);
      expect(
        coverText({
          ...about,
          recipient: { name: '', address: 'x@y.example' },
          language,
          container,
          telling,
          fileName: 'a',
        }),
      ).not.toMatch(/ ,/);
    },
  );

  test.each(LANGUAGES)('ours in %s keeps to the rules that an office’s own must keep to', (language) =>
    expect(coverProblem(ourTemplate(language))).toBeUndefined(),
  );

  test.each([
    ['', 'empty'],
    ['{sender} {file} {open}', 'placeholder-missing'],
    ['{sender} {file} {password} {open} {subject}', 'unknown-placeholder'],
    ['{sender} {file} {password} {open} {', 'loose-brace'],
    ['{sender} {file} {password} {open} https://x.example', 'link'],
  ])('%j: %s', (text, code) => expect(coverProblem(text)).toMatchObject({ code }));

  test('a name that looks like a placeholder is none', () =>
    expect(
      coverText({
        ...about,
        recipient: { name: '{password}', address: 'x@y.example' },
        language: 'en',
        container: 'zip',
        telling: 'phone',
        fileName: 'a.zip',
      }),
    ).toContain('Dear {password},'));
});

describe('names', () => {
  const naming = { date, zone: 'Europe/Lisbon', reference: '../CR/26.11' };
  test.each([
    [{ naming: 'date' }, '2026-11-25 1430.zip'],
    [{ naming: 'fixed', fixedName: 'papers' }, 'papers.zip'],
    [{ naming: 'fixed', fixedName: ' ' }, 'message.zip'],
    [{ naming: 'reference' }, '-CR-26-11.zip'],
    [{ naming: 'date', container: 'page' }, '2026-11-25 1430.html'],
    [{ naming: 'fixed', fixedName: 'CON' }, '_CON.zip'],
  ] as const)('%o: %s', (way, name) => expect(lockedFileName({ ...USUAL_WAY, ...way }, naming)).toBe(name));
  test('random ones differ', () =>
    expect(lockedFileName({ ...USUAL_WAY, naming: 'random' }, naming)).not.toBe(
      lockedFileName({ ...USUAL_WAY, naming: 'random' }, naming),
    ));
  test.each([
    ['zi_', true],
    ['zip', true],
    ['exe', false],
    ['js', false],
    ['hta', false],
    ['a.b', false],
    ['', false],
    ['toolongext', false],
  ])('ending %j: %s', (ending, fits) => expect(isExtension(ending)).toBe(fits));
  test.each([
    ['a.JPG', true],
    ['a.docx', true],
    ['a.txt', false],
    ['zip', true],
    ['a.pdf', false],
  ])('%s is packed already: %s', (name, packed) => expect(isPackedAlready(name, [])).toBe(packed));

  test('the office’s own types are put in as they are, others made smaller', async () => {
    const file = { name: 'readings.dat', type: 'text/plain', bytes: utf8('depth 12 m\n'.repeat(1_000)) };
    const headOf = async (storedTypes: string[]) =>
      readDirectory((await sealed({}, { message: { ...message, files: [file] }, storedTypes })).files[0]!.bytes).find(
        ({ name }) => name === file.name,
      )!;
    expect((await headOf([])).packed).toBeLessThan(1_000);
    expect((await headOf(['dat'])).packed).toBeGreaterThanOrEqual(file.bytes.length);
  });
});

describe('the plan', () => {
  const handling: PlannedHandling = {
    ...LOOSEST_TERMS,
    clear: false,
    textOpen: false,
    rights: NO_RIGHTS,
    check: 'text',
    leastCheck: 'question',
  };
  const context: AssessmentContext = {
    message: '',
    fileCount: 1,
    size: 1_000,
    sender: { address: 'm@larkmoor.example', signs: true, signsOpenPgp: false, phones: [], addresses: [] },
    others: [],
  };
  const known = (over: Partial<KnownFileWay> = {}, way: Partial<FileWay> = {}): KnownFileWay => ({
    way: { ...USUAL_WAY, ...way },
    password: { weak: false, told: true },
    legacyAllowed: false,
    ...over,
  });
  const pell = (file: KnownFileWay | undefined, over: Partial<Recipient> = {}): Recipient => ({
    name: 'Pell',
    address: 'pell@postbox.example',
    role: 'to',
    ...(file === undefined ? {} : { file }),
    ...over,
  });
  const codes = (
    file: KnownFileWay | undefined,
    terms: Partial<PlannedHandling> = {},
    about_: Partial<AssessmentContext> = {},
  ) => assessFile(pell(file), { ...handling, ...terms }, { ...context, ...about_ }).missing.map(({ code }) => code);

  test.each<[string, string[], KnownFileWay | undefined, Partial<PlannedHandling>?, Partial<AssessmentContext>?]>([
    ['nothing', [], known()],
    ['a password', ['password-missing'], known({ password: undefined as never })],
    ['a stronger one', ['password-weak'], known({ password: { weak: true, told: true } })],
    [
      'one that does not stand in the mail',
      ['password-in-mail'],
      known({ password: { weak: false, told: true, standsIn: 'text' } }),
    ],
    [
      'a file, where only files go',
      ['nothing-to-lock', 'text-may-not-stay-open'],
      known({}, { scope: 'files' }),
      {},
      { fileCount: 0 },
    ],
    ['nothing where the handling lets the text stay', [], known({}, { scope: 'files' }), { textOpen: true }],
    ['another cipher', ['legacy-not-allowed'], known({}, { cipher: 'legacy' })],
    ['nothing where the office allows it', [], known({ legacyAllowed: true }, { cipher: 'legacy' })],
    ['a phone for the text', ['phone-missing'], known({ password: { weak: false, told: false } }, { telling: 'text' })],
    ['copies to be allowed', ['copies-not-allowed'], known(), { copies: false }],
    ['no outsider', ['staff-only'], known(), { audience: 'staff' }],
  ])('what is missing: %s', (_, missing, ...about_) => expect(codes(...about_)).toEqual(missing));

  test('warnings say what is weak, readable or visible', () => {
    const warnings = (way: Partial<FileWay>) =>
      assessFile(pell(known({ legacyAllowed: true }, way)), { ...handling, textOpen: true }, context).warnings.map(
        ({ code }) => code,
      );
    expect(warnings({ cipher: 'legacy' })).toEqual(['legacy-cipher', 'names-visible']);
    expect(warnings({ scope: 'files', hideNames: true })).toEqual(['text-stays-open']);
    expect(warnings({ container: 'page' })).toEqual([]);
    expect(assessFile(pell(known()), handling, { ...context, fileCount: 0 }).warnings).toEqual([]); // no file has a name
    expect(warnings({ container: 'pdf' })).toEqual(['pdf-rights-discourage']);
    expect(
      assessFile(pell(known({}, { container: 'pdf' })), { ...handling, rights: LOOSEST_TERMS.rights }, context)
        .warnings,
    ).toEqual([]);
  });

  test('where nothing is secret the files are only packed, and it says so', () => {
    expect(assessFile(pell(undefined), { ...handling, clear: true }, context)).toMatchObject({
      clear: true,
      available: true,
      missing: [],
      warnings: [{ code: 'only-packed' }],
    });
    expect(assessFile(pell(undefined), { ...handling, clear: true }, { ...context, fileCount: 0 })).toMatchObject({
      available: false,
      missing: [{ code: 'nothing-to-lock' }],
    });
  });

  test('four locks in one plan: each by the best there is, and a locked file only where it was chosen or the room lacks something', () => {
    const recipients: Recipient[] = [
      pell(known(), { address: 'cert@a.example', certificate: { level: 'valid' } }),
      pell(known(), { address: 'key@a.example', openpgp: { level: 'valid', readsNewest: false } }),
      pell(known(), { address: 'room@a.example', phone: '+447700900417' }),
      pell(known(), { address: 'chosen@a.example', phone: '+447700900418', lock: 'file' }),
      pell(known(), { address: 'agreed@a.example' }),
      pell(known({ password: undefined as never }), { address: 'nothing@a.example' }),
    ];
    const { lines } = planDelivery(
      {
        recipients,
        handling: {
          ...handling,
          rights: LOOSEST_TERMS.rights,
          closing: { ok: true, closesAt: new Date(date.getTime() + 86_400_000) },
        },
        subject: 'x',
        text: 'x',
        fileSizes: [10],
        limits: { maxBytes: 1_000, maxRecipients: 10 },
        context,
      },
      lockKinds,
    );
    expect(lines.map(({ chosen }) => chosen.lock)).toEqual(['certificate', 'openpgp', 'room', 'file', 'file', 'room']);
  });
});

describe('the office’s rules', () => {
  const rules: FileRules = {
    ...OUR_RULES,
    exceptions: [
      { whom: 'saltmarsh.example', extension: 'zi_', largest: 5_000_000 },
      { whom: 'Yard@Saltmarsh.example', container: 'pdf' },
    ],
  };
  test('an address says more than its domain, and what was chosen for somebody more than both', () => {
    expect(wayFor(rules, 'x@saltmarsh.example', undefined)).toEqual({ ...USUAL_WAY, extension: 'zi_' });
    expect(wayFor(rules, 'yard@saltmarsh.example', undefined)).toEqual({
      ...USUAL_WAY,
      container: 'pdf',
      extension: 'zi_',
    });
    expect(wayFor(rules, 'yard@saltmarsh.example', USUAL_WAY)).toEqual(USUAL_WAY);
    expect(wayFor(rules, 'x@other.example', undefined)).toEqual(USUAL_WAY);
  });
  test('what their gateway takes holds whichever way was chosen', () => {
    for (const address of ['x@saltmarsh.example', 'yard@saltmarsh.example'])
      expect(largestFor(rules, address)).toBe(5_000_000);
    expect(largestFor(rules, 'x@other.example')).toBeUndefined();
  });
  test('one exception is put in, changed and taken away, and the others stay as they are', () => {
    const [, yard] = rules.exceptions;
    const changed = withException(rules, { whom: 'Saltmarsh.example', largest: 9_000_000 });
    expect(changed.exceptions).toEqual([{ whom: 'Saltmarsh.example', largest: 9_000_000 }, yard]);
    expect(exceptionFor(changed, 'saltmarsh.example').largest).toBe(9_000_000);
    expect(withException(changed, { whom: 'saltmarsh.example' }).exceptions).toEqual([yard]);
    expect(withException(rules, { whom: 'quay.example', extension: 'zi_' }).exceptions).toHaveLength(3);
    expect(withException(rules, { whom: 'quay.example' }).exceptions).toEqual(rules.exceptions);
  });
  test.each<[string, Partial<FileRules>, object | undefined]>([
    ['ours', {}, undefined],
    [
      'an exception for nobody',
      { exceptions: [{ whom: 'not a domain' }] },
      { code: 'exception', whom: 'not a domain' },
    ],
    [
      'an exception twice',
      { exceptions: [{ whom: 'a.example' }, { whom: ' A.example' }] },
      { code: 'exception-twice' },
    ],
    [
      'the legacy cipher where it is not allowed',
      { exceptions: [{ whom: 'a.example', cipher: 'legacy' }] },
      { code: 'legacy-not-allowed' },
    ],
    ['a file type that is none', { storedTypes: ['dat', 'd/t'] }, { code: 'stored-type', type: 'd/t' }],
    [
      'a note without the password',
      { templates: { de: '{sender} {file} {open}' } },
      { code: 'template', language: 'de', problem: 'placeholder-missing' },
    ],
  ])('%s', (_, change, problem) =>
    problem === undefined
      ? expect(fileRulesProblem({ ...OUR_RULES, ...change })).toBeUndefined()
      : expect(fileRulesProblem({ ...OUR_RULES, ...change })).toMatchObject(problem),
  );
  test.each([
    ['a.example', 'a.example'],
    ['A@B.example', 'a@b.example'],
    ['example', undefined],
    ['a@', undefined],
    ['', undefined],
  ])('%j is %s', (whom, key) => expect(exceptionKey(whom)).toBe(key));
});

const bytes = (size: number): Bytes => new Uint8Array(size).fill(7);
test('sealing the same again is another file: nobody sees that it is the same', async () => {
  const twice = await Promise.all(
    [1, 2].map(() => sealed({}, { message: { ...message, files: [{ name: 'a', type: 'x/y', bytes: bytes(100) }] } })),
  );
  expect(Buffer.compare(Buffer.from(twice[0]!.files[0]!.bytes), Buffer.from(twice[1]!.files[0]!.bytes))).not.toBe(0);
});
