/**
 * `npm start`: installs what is missing, makes and migrates the database, fills the demo when empty, builds what
 * changed, starts everything. `-- --fresh` starts the demo over.
 */
import { spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { ensureDebian, ensureModules, postgres } from './ground/packages.mjs';
import { at, root } from './ground/paths.mjs';
import { endLeftovers, rememberChild, forgetChildren } from './ground/children.mjs';
import { capture } from './ground/run.mjs';
import { giveFile, giveFolder, ownUser } from './ground/rights.mjs';
import { secretIn } from './ground/secret.mjs';
import { submissionIn } from './ground/submission.mjs';

const fresh = process.argv.includes('--fresh');
const own = process.env.DATABASE_URL === undefined;
const dataDir = process.env.UNDERLOCK_DATA ?? at('data');

async function main() {
  if (own) await ensureDebian([postgres]);
  await ensureModules();
  await endLeftovers(dataDir);
  const { buildServer, buildWeb } = await import('./ground/build.mjs');
  const { startCluster } = await import('./ground/cluster.mjs');
  const { preparedDatabase } = await import('./ground/database.mjs');
  await buildServer();
  await buildWeb();

  const cluster = own ? await startCluster(dataDir) : undefined;
  const port = Number(process.env.UNDERLOCK_PORT ?? 8420);
  const outside = {
    smtp: Number(process.env.OUTSIDE_SMTP_PORT ?? 8425),
    http: Number(process.env.OUTSIDE_HTTP_PORT ?? 8421),
  };
  const standIns = process.env.UNDERLOCK_SMTP_URL === undefined;
  const env = {
    ...process.env,
    NODE_ENV: 'production',
    UNDERLOCK_SECRET: process.env.UNDERLOCK_SECRET ?? secretIn(dataDir),
    UNDERLOCK_JOURNAL: process.env.UNDERLOCK_JOURNAL ?? `${dataDir}/endings.jsonl`,
    UNDERLOCK_PORT: String(port),
    UNDERLOCK_SMTP_URL: process.env.UNDERLOCK_SMTP_URL ?? `smtp://127.0.0.1:${outside.smtp}`,
    UNDERLOCK_TEXT_URL: process.env.UNDERLOCK_TEXT_URL ?? `http://127.0.0.1:${outside.http}/texts`,
    UNDERLOCK_CALL_URL: process.env.UNDERLOCK_CALL_URL ?? `http://127.0.0.1:${outside.http}/calls`,
    UNDERLOCK_MAIL_PORT: process.env.UNDERLOCK_MAIL_PORT ?? '8426',
    OUTSIDE_SMTP_PORT: String(outside.smtp),
    OUTSIDE_HTTP_PORT: String(outside.http),
    OUTSIDE_DIR: `${dataDir}/outside`,
    ...(standIns
      ? {
          UNDERLOCK_OUTSIDE_URL: `http://127.0.0.1:${outside.http}`,
          UNDERLOCK_DNS: `127.0.0.1:${outside.http}`,
        }
      : {}),
  };
  // Somebody who has the office's token runs the door themselves, elsewhere.
  const submission =
    process.env.UNDERLOCK_SUBMISSION_TOKEN === undefined
      ? submissionIn(`${dataDir}/door`, `http://127.0.0.1:${port}`, env)
      : undefined;
  delete env.UNDERLOCK_SUBMISSION_SECRET;
  Object.assign(env, submission?.server);
  if (fresh) {
    if (cluster === undefined) throw new Error('--fresh is for the demo’s own database, not for DATABASE_URL');
    const { default: pg } = await import('pg');
    const client = new pg.Client({ connectionString: cluster.url('postgres') });
    await client.connect();
    await client.query('DROP DATABASE IF EXISTS under_lock WITH (FORCE)');
    await client.end();
    rmSync(`${dataDir}/outside`, { recursive: true, force: true });
    rmSync(`${dataDir}/demo.json`, { force: true });
    rmSync(`${dataDir}/endings.jsonl`, { force: true });
  }
  if (cluster !== undefined) Object.assign(env, await preparedDatabase(cluster, 'under_lock'));
  const user = ownUser();
  if (user !== undefined) {
    env.UNDERLOCK_USER ??= user.name;
    giveFile(env.UNDERLOCK_JOURNAL, user);
    giveFolder(env.OUTSIDE_DIR, user);
    for (const file of submission?.files ?? []) giveFile(file, user);
  }

  const children = [];
  let stopping = false;
  const stop = async (code) => {
    if (stopping) return;
    stopping = true;
    for (const child of children) if (child.exitCode === null) child.kill('SIGTERM');
    await Promise.all(
      children.map(
        (child) =>
          child.exitCode !== null || child.signalCode !== null || new Promise((done) => child.once('exit', done)),
      ),
    );
    await cluster?.stop();
    forgetChildren(dataDir);
    process.exit(code);
  };
  process.on('SIGINT', () => void stop(0));
  process.on('SIGTERM', () => void stop(0));
  // A group of its own: Ctrl-C reaches this process only, which then stops the others in order.
  const start = (name, as = {}) => {
    const child = spawn(process.execPath, ['--enable-source-maps', at('dist', `${name}.mjs`)], {
      cwd: root,
      env,
      stdio: ['ignore', 'inherit', 'inherit'],
      detached: true,
      ...as,
    });
    child.once('exit', (code) => {
      if (!stopping) {
        process.stderr.write(`${name} ended with ${code}\n`);
        void stop(1);
      }
    });
    rememberChild(dataDir, child.pid, `${name}.mjs`);
    children.push(child);
  };
  if (standIns) start('outside', user === undefined ? {} : { uid: user.uid, gid: user.gid });
  const seeded =
    standIns && process.env.UNDERLOCK_NO_DEMO === undefined
      ? capture(process.execPath, [at('dist/seed.mjs')], { cwd: root, env, stdio: ['ignore', 'pipe', 'inherit'] })
      : '';
  if (seeded === undefined) {
    process.stderr.write('The demo could not be filled in; see above.\n');
    await stop(1);
    return;
  }
  if (seeded.trim() !== '') writeFileSync(`${dataDir}/demo.json`, seeded);
  start('server');
  await ready(port);
  if (submission !== undefined)
    start('door', { env: submission.door, ...(user === undefined ? {} : { uid: user.uid, gid: user.gid }) });
  announce(port, dataDir, submission?.door);
}

async function ready(port) {
  for (let tries = 0; tries < 200; tries++) {
    const isReady = await fetch(`http://127.0.0.1:${port}/api/office`).then(
      (response) => response.ok,
      () => false,
    );
    if (isReady) break;
    await new Promise((done) => setTimeout(done, 100));
  }
}

function announce(port, dir, door) {
  const lines = ['', `Under Lock is open at http://127.0.0.1:${port}`];
  if (existsSync(`${dir}/demo.json`)) {
    const demo = JSON.parse(readFileSync(`${dir}/demo.json`, 'utf8'));
    lines.push('', 'Sign in as:');
    for (const one of demo.signIns)
      lines.push(`  ${one.address.padEnd(32)} ${one.password.padEnd(26)} recovery code ${one.recoveryCode}`);
    if (demo.reader !== undefined)
      lines.push(
        `  A reader with a list of her own: ${demo.reader.address}, ${demo.reader.password}, at ${demo.reader.list}`,
      );
    lines.push(
      `  A new colleague sets up at ${demo.invitation}`,
      '',
      `Mailboxes and phones of the outside world: http://127.0.0.1:${port}/outside`,
      'Papers to send: demo/papers',
    );
  } else
    lines.push(
      '',
      'Where nobody has an account yet, the first administrator is invited by',
      '  npm run invite -- --address you@your.domain --name "Your Name"',
    );
  if (door !== undefined)
    lines.push(
      '',
      `Mail programs hand in at localhost, port ${door.UNDERLOCK_SUBMISSION_TLS_PORT ?? 8465} (TLS) or ${door.UNDERLOCK_SUBMISSION_PORT ?? 8587} (STARTTLS);`,
      `  passwords for them are made under Account › Mail programs, the certificate is ${door.UNDERLOCK_SUBMISSION_CERTIFICATE}`,
    );
  process.stdout.write(`${lines.join('\n')}\n\nCtrl-C stops everything.\n`);
}

main().catch((error) => {
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
});
