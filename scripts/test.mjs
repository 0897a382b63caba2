/**
 * `npm test`: installs what is missing (Chromium, PostgreSQL, node_modules), then types, lint, boundaries, unit tests
 * and browser tests. The last line counts them all.
 */
import { randomInt } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import {
  chromium,
  dkimpy,
  ensureDebian,
  ensureModules,
  gsf,
  jwcrypto,
  libarchive,
  odfpy,
  openpyxl,
  openssl,
  pgpy,
  poppler,
  postgres,
  pyCryptography,
  pyDocx,
  pythonTests,
  vobject,
  qpdf,
  sevenZip,
  slapd,
  swaks,
  mutt,
  sNail,
  postfix,
  sasl,
  ssleay,
  msmtp,
  curl,
  sqop,
  vectors,
} from './ground/packages.mjs';
import { at } from './ground/paths.mjs';
import { browserCounts, failure, unitCounts, WHY_LINES } from './ground/reports.mjs';
import { runAside } from './ground/run.mjs';

let passed = 0;
let failed = 0;
/** Of all tests, with how long each took. */
const slowest = [];
/** What failed and why, said once more below all else. */
const broken = [];

async function check(name, command, args) {
  const { code, output } = await runAside(command, args, { idle: true });
  process.stdout.write(`\n== ${name}\n${output}`);
  if (code === 0) passed += 1;
  else {
    failed += 1;
    broken.push(failure(name, [output]));
  }
}

/**
 * A runner's own report, counted test by test; a runner that ends badly without one counts as one failure. What it
 * prints comes at its end, since others run beside.
 */
async function counted(name, args, env, reportFile, read) {
  rmSync(reportFile, { force: true });
  const { code, output } = await runAside(process.execPath, args, { env });
  process.stdout.write(`\n== ${name}\n${output}`);
  let counts = { passed: 0, failed: 0, slowest: [], broken: [] };
  try {
    counts = read(JSON.parse(readFileSync(reportFile, 'utf8')));
  } catch {
    process.stdout.write(`${name} left no report\n`);
  }
  if (code !== 0 && counts.failed === 0) {
    counts.failed = 1;
    counts.broken.push(failure(name, output.split('\n').slice(-WHY_LINES)));
  }
  passed += counts.passed;
  failed += counts.failed;
  slowest.push(...counts.slowest);
  broken.push(...counts.broken);
}

async function main() {
  await ensureDebian([
    postgres,
    chromium,
    poppler,
    dkimpy,
    qpdf,
    jwcrypto,
    openssl,
    vectors,
    pyCryptography,
    sqop,
    pgpy,
    sevenZip,
    slapd,
    swaks,
    mutt,
    sNail,
    postfix,
    sasl,
    ssleay,
    msmtp,
    curl,
    libarchive,
    gsf,
    openpyxl,
    pyDocx,
    pythonTests,
    vobject,
    odfpy,
  ]);
  await ensureModules();
  mkdirSync(at('test-results'), { recursive: true });
  const bin = (name) => at('node_modules', name);
  const node = process.execPath;
  const { startTestCluster } = await import('./ground/testing.mjs');
  const { buildServer, buildWeb } = await import('./ground/build.mjs');

  async function checks() {
    await check('types, core and server', node, [bin('typescript/bin/tsc'), '--noEmit', '-p', 'tsconfig.json']);
    await check('types, app and reader', node, [bin('typescript/bin/tsc'), '--noEmit', '-p', 'app/tsconfig.json']);
    await check('lint', node, [bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0']);
    await check('boundaries', node, [at('scripts/boundaries.mjs')]);
    await check('format', node, [bin('prettier/bin/prettier.cjs'), '--check', '--log-level', 'warn', '.']);
  }

  rmSync(at('.tmp', 'test'), { recursive: true, force: true });
  await buildServer();
  const cluster = await startTestCluster();
  const seed = process.env.UNDERLOCK_SEED ?? String(randomInt(2 ** 31));
  process.stdout.write(`Damaged inputs of this run: UNDERLOCK_SEED=${seed}\n`);
  const env = { ...process.env, UNDERLOCK_TEST_CLUSTER: cluster.url('postgres'), UNDERLOCK_SEED: seed };
  try {
    const [unitReport, browserReport] = [at('test-results', 'unit.json'), at('test-results', 'e2e.json')];
    const jest = [bin('jest/bin/jest.js'), '--maxWorkers=3', '--json', `--outputFile=${unitReport}`];
    const playwright = [bin('@playwright/test/cli.js'), 'test', '-c', 'e2e/playwright.config.ts'];
    // Browsers starve beside anything else: they come after, and what needs none goes first.
    const besides = checks().then(buildWeb);
    // Seen to below, also when the unit tests throw first.
    besides.catch(() => undefined);
    await counted('unit tests', jest, env, unitReport, unitCounts);
    await besides;
    await counted('browser tests', playwright, env, browserReport, browserCounts);
    process.stdout.write('\n== slowest\n');
    for (const { what, ms } of slowest.sort((one, other) => other.ms - one.ms).slice(0, 20))
      process.stdout.write(`${(ms / 1000).toFixed(1).padStart(6)} s  ${what}\n`);
    if (broken.length > 0) process.stdout.write(`\n== failed\n${broken.join('\n\n')}\n`);
  } finally {
    await cluster.stop();
  }
}

main()
  .catch((error) => {
    process.stderr.write(`${error.stack ?? error}\n`);
    failed += 1;
  })
  .finally(() => {
    process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
    process.exitCode = failed === 0 ? 0 : 1;
  });
