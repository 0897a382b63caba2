/**
 * The built house as processes of its own on a database of its own, filled with the demo. The demo is made once for each
 * place in which tests run beside each other; every house there begins as a copy of it, on the same ports, so that links
 * in the demo's mail lead where they should.
 */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { randomBytes, randomInt, randomUUID } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import pg from 'pg';
import { ensureRoles } from '../scripts/ground/roles.mjs';

const root = join(import.meta.dirname, '..');

export interface SignIn {
  address: string;
  password: string;
  recoveryCode: string;
  name: string;
}

interface Demo {
  signIns: SignIn[];
  invitation: string;
}

export interface House extends Demo {
  origin: string;
  outside: string;
  smtpPort: number;
  /** Where our own mail comes in. */
  mailPort: number;
  databaseUrl: string;
  /** With what is set otherwise than in every house. */
  startServer(over?: Record<string, string>): Promise<void>;
  /** Ends it without a goodbye, as a crash would. */
  killServer(): Promise<void>;
  behave(behaviour: { mail?: string; phone?: string }): Promise<void>;
}

/** What the houses of one place begin with. */
interface Model {
  database: string;
  serverRole: { name: string; password: string };
  secret: string;
  ports: { server: number; http: number; smtp: number; mail: number };
  /** The outside world's store. */
  outsideDir: string;
  demo: Demo;
}

const ended = (child: ChildProcess): Promise<void> =>
  new Promise((done) =>
    child.exitCode !== null || child.signalCode !== null ? done() : child.once('exit', () => done()),
  );

const clusterUrl = (): string => {
  const url = process.env.UNDERLOCK_TEST_CLUSTER;
  if (url === undefined) throw new Error('UNDERLOCK_TEST_CLUSTER is not set; run the tests with npm test');
  return url;
};

const databaseUrl = (name: string): string => clusterUrl().replace(/\/[^/]*$/, `/${name}`);

async function createDatabase(name: string, template?: string): Promise<void> {
  const client = new pg.Client({ connectionString: clusterUrl() });
  await client.connect();
  try {
    await client.query(`CREATE DATABASE ${name}${template === undefined ? '' : ` TEMPLATE ${template}`}`);
  } finally {
    await client.end();
  }
}

/** More run beside each other nowhere. */
const PLACES = 10;

const isFree = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });

/**
 * Four in a row below those that the system gives to outgoing connections: between two houses nobody takes them. Places
 * that look for theirs at the same time look among others. Browsers and `fetch` open nothing at 10080 (a “bad port” of
 * the Fetch standard), so they begin above it.
 */
async function freePorts(): Promise<Model['ports']> {
  const place = Number(process.env.TEST_PARALLEL_INDEX ?? 0) % PLACES;
  for (;;) {
    const first = 10_100 + 4 * (PLACES * randomInt(19_880 / (4 * PLACES)) + place);
    const four = [first, first + 1, first + 2, first + 3];
    if ((await Promise.all(four.map(isFree))).every(Boolean))
      return { server: first, http: first + 1, smtp: first + 2, mail: first + 3 };
  }
}

function settings({ ports, secret, serverRole }: Model, database: string, outsideDir: string): NodeJS.ProcessEnv {
  const outside = `http://127.0.0.1:${ports.http}`;
  const asServer = Object.assign(new URL(databaseUrl(database)), {
    username: serverRole.name,
    password: serverRole.password,
  });
  return {
    ...process.env,
    NODE_ENV: 'production',
    DATABASE_URL: asServer.toString(),
    UNDERLOCK_MIGRATE: 'no',
    UNDERLOCK_SECRET: secret,
    UNDERLOCK_PORT: String(ports.server),
    UNDERLOCK_SMTP_URL: `smtp://127.0.0.1:${ports.smtp}`,
    UNDERLOCK_TEXT_URL: `${outside}/texts`,
    UNDERLOCK_CALL_URL: `${outside}/calls`,
    UNDERLOCK_MAIL_PORT: String(ports.mail),
    UNDERLOCK_UNDO_SECONDS: '0',
    UNDERLOCK_COMMON_PASSWORDS: '2',
    UNDERLOCK_CODES_A_DAY: '1000',
    UNDERLOCK_OUTSIDE_URL: outside,
    UNDERLOCK_DNS: `127.0.0.1:${ports.http}`,
    OUTSIDE_SMTP_PORT: String(ports.smtp),
    OUTSIDE_HTTP_PORT: String(ports.http),
    OUTSIDE_DIR: outsideDir,
  };
}

const start = (file: string, env: NodeJS.ProcessEnv): ChildProcess =>
  spawn(process.execPath, [join(root, 'dist', file)], { cwd: root, env, stdio: ['ignore', 'ignore', 'inherit'] });

async function makeModel(dir: string, crowd: boolean): Promise<Model> {
  const database = `model_${randomUUID().replaceAll('-', '')}`;
  await createDatabase(database);
  const role = (which: string) => ({ name: `${database.slice(0, 20)}_${which}`, password: randomUUID() });
  const roles = { owner: role('owner'), server: role('server') };
  const { ownerUrl, running } = await ensureRoles(databaseUrl(database), roles);
  execFileSync(process.execPath, [join(root, 'dist/prepare.mjs')], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: ownerUrl, UNDERLOCK_RUNNING_ROLE: running },
  });
  const unfilled = {
    database,
    serverRole: roles.server,
    secret: randomBytes(32).toString('base64url'),
    ports: await freePorts(),
    outsideDir: join(dir, 'outside'),
    demo: { signIns: [], invitation: '' },
  };
  const env = { ...settings(unfilled, database, unfilled.outsideDir), UNDERLOCK_DEMO_CROWD: crowd ? 'yes' : 'no' };
  const world = start('outside.mjs', env);
  try {
    const printed = execFileSync(process.execPath, [join(root, 'dist/seed.mjs')], { cwd: root, env, encoding: 'utf8' });
    return { ...unfilled, demo: JSON.parse(printed) as Demo };
  } finally {
    world.kill('SIGTERM');
    await ended(world);
  }
}

/** Made by the first house of this run in this place that wants one like it. */
async function modelHere(crowd: boolean): Promise<Model> {
  const dir = join(root, '.tmp/e2e', process.env.UNDERLOCK_E2E_RUN!, process.env.TEST_PARALLEL_INDEX!);
  const file = join(dir, crowd ? 'crowd.json' : 'model.json');
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8')) as Model;
  mkdirSync(dir, { recursive: true });
  const model = await makeModel(crowd ? join(dir, 'crowd') : dir, crowd);
  writeFileSync(file, JSON.stringify(model));
  return model;
}

/** With a `crowd`, Tobias Quill has as much of everything as anybody has. */
export async function openHouse({ crowd = false } = {}): Promise<House & { stop(): Promise<void> }> {
  const model = await modelHere(crowd);
  const { ports, demo } = model;
  const database = `e2e_${randomUUID().replaceAll('-', '')}`;
  await createDatabase(database, model.database);
  const outsideDir = mkdtempSync(join(model.outsideDir, '../house-'));
  cpSync(model.outsideDir, outsideDir, { recursive: true });
  const env = settings(model, database, outsideDir);
  const outside = `http://127.0.0.1:${ports.http}`;
  const world = start('outside.mjs', env);
  let server: ChildProcess | undefined;
  const answers = (url: string): Promise<boolean> =>
    fetch(url).then(
      ({ ok }) => ok,
      () => false,
    );
  const untilAnswered = async (url: string): Promise<void> => {
    for (let tries = 0; tries < 200; tries++) {
      if (await answers(url)) return;
      await new Promise((done) => setTimeout(done, 100));
    }
    throw new Error(`Nothing answered at ${url}`);
  };
  const house = {
    origin: `http://127.0.0.1:${ports.server}`,
    outside,
    smtpPort: ports.smtp,
    mailPort: ports.mail,
    databaseUrl: databaseUrl(database),
    ...demo,
    async startServer(over: Record<string, string> = {}) {
      server = start('server.mjs', { ...env, ...over });
      await untilAnswered(`${house.origin}/api/office`);
    },
    async killServer() {
      server?.kill('SIGKILL');
      if (server !== undefined) await ended(server);
    },
    async behave(behaviour: { mail?: string; phone?: string }) {
      await fetch(`${outside}/behaviour`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ mail: 'deliver', phone: 'deliver', ...behaviour }),
      });
    },
    async stop() {
      server?.kill('SIGTERM');
      world.kill('SIGTERM');
      await Promise.all([server === undefined ? undefined : ended(server), ended(world)]);
    },
  };
  await untilAnswered(`${outside}/phones`);
  await house.startServer();
  return house;
}
