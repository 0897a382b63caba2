/** The whole outside world as one process. */
import { type Authorities, openAuthorities } from './authority/authorities';
import { type Behaviour } from './behaviour';
import { openDoor } from './door';
import { openMailHost } from './mail-host';
import { type Keyring, openKeyring } from './openpgp/keyring';
import { type DkimKey, type Entry, mailSigningKey, openNames, signingKeyOf } from './dns';
import { readFirst, writeWhole } from './ready';
import { openStore, type Store } from './store';

const ENTERED = 'names.json';

export interface World {
  smtpPort: number;
  httpPort: number;
  store: Store;
  behaviour: { current: Behaviour };
  /** What the office has entered at whoever runs its domain. */
  entered: Entry[];
  /** Where nothing is ready they are made at the first call, which takes seconds. */
  authorities: () => Promise<Authorities>;
  keyring: () => Promise<Keyring>;
  /** Where the office takes mail and delivery reports; may be told later. */
  officeDoor: { host: string; port: number } | undefined;
  /** What the mail host of a firm signs with; undefined for one that does not. */
  signingKey(domain: string): Promise<DkimKey | undefined>;
  stop(): Promise<void>;
}

/** At the first call, and the same ever after. */
function once<T>(make: () => Promise<T>): () => Promise<T> {
  let made: Promise<T> | undefined;
  return () => (made ??= make());
}

/** What the office has entered, kept where this world keeps its things. */
function namesEntered(dir: string | undefined): { entered: Entry[]; enter: (entry: Entry) => void } {
  const entered = readFirst<Entry[]>([dir], ENTERED) ?? [];
  return {
    entered,
    enter(entry) {
      entered.push(entry);
      if (dir !== undefined) writeWhole(dir, ENTERED, entered);
    },
  };
}

export async function startWorld(options: {
  smtpPort: number;
  httpPort: number;
  dir?: string;
  /** A folder with keys made before; never written. */
  ready?: string;
  officeDomain?: string;
  officeDoor?: { host: string; port: number };
}): Promise<World> {
  const { dir, ready, officeDomain = 'larkmoor.example', officeDoor } = options;
  const store = openStore(dir);
  const behaviour: { current: Behaviour } = { current: { mail: 'deliver', phone: 'deliver' } };
  const { entered, enter } = namesEntered(dir);
  const world: Pick<World, 'officeDoor'> = { officeDoor };
  const authorities = once(() => openAuthorities(dir, new Date(), ready));
  const keyring = once(() => openKeyring(dir, new Date(), ready));
  const mailKey = once(() => mailSigningKey(dir, ready));
  const signingKey = (domain: string): Promise<DkimKey | undefined> => signingKeyOf(domain, mailKey);
  const host = await openMailHost({
    port: options.smtpPort,
    store,
    behaviour: () => behaviour.current,
    officeDomain,
    officeDoor: () => world.officeDoor,
  });
  const door = await openDoor({
    port: options.httpPort,
    store,
    behaviour,
    authorities,
    keyring,
    officeDoor: () => world.officeDoor,
    signingKey,
    enter,
  });
  // By UDP, where HTTP is by TCP: one number less to be told of.
  const names = await openNames({ port: door.port, office: officeDomain, mailKey, entered });
  const ports = { smtpPort: host.port, httpPort: door.port };
  const parts = { store, behaviour, entered, authorities, keyring, signingKey };
  return Object.assign(world, ports, parts, {
    async stop() {
      door.server.closeAllConnections();
      await new Promise((done) => door.server.close(done));
      await host.close();
      await names.close();
    },
  });
}
