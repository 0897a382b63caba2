/** The check of the house's arrows, tried on houses that break them. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { pathsNamed } from '../../scripts/ground/named-paths.cjs';

const root = join(__dirname, '../..');
const ROOMS = ['core', 'contract', 'server', 'ui', 'app', 'reader', 'door', 'standins'];

function checked(files: Record<string, string>): { status: number | null; said: string } {
  const house = mkdtempSync(join(tmpdir(), 'under-lock-house-'));
  try {
    const whole = { ...Object.fromEntries(ROOMS.map((room) => [`${room}/src/here.ts`, 'export {};\n'])), ...files };
    for (const [path, text] of Object.entries(whole)) {
      mkdirSync(dirname(join(house, path)), { recursive: true });
      writeFileSync(join(house, path), text);
    }
    const { status, stdout } = spawnSync(process.execPath, [join(root, 'scripts/boundaries.mjs'), house], {
      encoding: 'utf8',
    });
    return { status, said: stdout };
  } finally {
    rmSync(house, { recursive: true });
  }
}

test('a house that breaks the rules is refused, and each of them is named', () => {
  const { status, said } = checked({
    // Core that knows the server.
    'core/src/plan.ts': "import '../../server/src/secret';\n",
    'server/src/secret.ts': 'export {};\n',
    // The server that seals a copy, a screen that opens a vault.
    'server/src/door.ts': "import '../../core/src/locks/file/seal';\n",
    'core/src/locks/file/seal.ts': 'export {};\n',
    'app/src/shown.ts': "import '../../core/src/sealing';\n",
    'core/src/sealing.ts': 'export {};\n',
    // Two files that need each other.
    'core/src/a.ts': "import { b } from './b';\nexport const a = () => b;\n",
    'core/src/b.ts': "import { a } from './a';\nexport const b = () => a;\n",
    // Two folders that do, through four files that don't.
    'core/src/a/one.ts': "import { three } from '../b/three';\nexport const one = three;\n",
    'core/src/a/two.ts': 'export const two = 2;\n',
    'core/src/b/three.ts': 'export const three = 3;\n',
    'core/src/b/four.ts': "import { two } from '../a/two';\nexport const four = two;\n",
    // And so in every room.
    'app/src/mail/list.ts': "import '../sent/line';\n",
    'app/src/sent/page.ts': "import '../mail/back';\n",
    'app/src/mail/back.ts': 'export {};\n',
    'app/src/sent/line.ts': 'export {};\n',
  });
  const named = [...said.matchAll(/error ([\w-]+):/g)].map(([, rule]) => rule);
  expect([...new Set(named)].sort()).toEqual([
    'core-reaches-only-itself',
    'no-cycles',
    'no-folder-cycles-in-app',
    'no-folder-cycles-in-core',
    'secrets-stay-behind-the-door',
    'sending-is-cores',
  ]);
  expect(status).not.toBe(0);
}, 60_000);

test('a house without any of it passes, and so do folders that know types of each other', () => {
  expect(
    checked({
      'app/src/mail/list.ts':
        "import { type Line } from '../sent/line';\nexport type List = Line[];\nexport const two = 2;\n",
      'app/src/sent/line.ts': 'export type Line = 1;\n',
      'app/src/sent/page.ts': "import { three } from '../mail/three';\nexport const page = three;\n",
      'app/src/mail/three.ts': 'export const three = 3;\n',
      'core/src/types.ts': "import { type A } from './a/one';\nexport type B = A;\n",
      'core/src/a/one.ts': 'export type A = 1;\n',
    }).status,
  ).toBe(0);
}, 60_000);

test('a rule that names what is not there any more fails', () => {
  const house = mkdtempSync(join(tmpdir(), 'under-lock-house-'));
  mkdirSync(join(house, 'core/src/locks'), { recursive: true });
  writeFileSync(join(house, 'core/src/sealing.ts'), '');
  expect(pathsNamed(house, ['core/src/sealing.ts', 'core/src/locks'])).toBe(
    '^(core/src/sealing\\.ts$|core/src/locks/)',
  );
  expect(() => pathsNamed(house, ['core/src/sealing.ts', 'core/src/unwrap.ts'])).toThrow(
    /not there any more: core\/src\/unwrap\.ts/,
  );
  rmSync(house, { recursive: true });
});

test('an access comes to be in one file only', () => {
  const making = /\bGrantRow\.(?:create|bulkCreate|upsert)\b|INSERT INTO grants\b/;
  const found = readdirSync(join(root, 'server/src'), { recursive: true, encoding: 'utf8' })
    .filter((path) => path.endsWith('.ts'))
    .filter((path) => making.test(readFileSync(join(root, 'server/src', path), 'utf8')));
  expect(found).toEqual(['access/make.ts']);
});
