/** The whole outside world as one process. */
import { type Authorities, openAuthorities } from './authority/authorities';
import { type Behaviour } from './behaviour';
import { openDoor } from './door';
import { openMailHost } from './mail-host';
import { type Keyring, openKeyring } from './openpgp/keyring';
import { type DkimKey, openNames } from './dns';
import { openStore, type Store } from './store';

export interface World {
  smtpPort: number;
  httpPort: number;
  store: Store;
  behaviour: { current: Behaviour };
  /** Where nothing is ready they are made at the first call, which takes seconds. */
  authorities: () => Promise<Authorities>;
  keyring: () => Promise<Keyring>;
  /** Where the office takes mail and delivery reports; may be told later. */
  officeDoor: { host: string; port: number } | undefined;
  /** What the mail host of a firm signs with; undefined for one that does not. */
  signingKey(domain: string): DkimKey | undefined;
  stop(): Promise<void>;
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
  const store = openStore(options.dir);
  const behaviour: { current: Behaviour } = { current: { mail: 'deliver', phone: 'deliver' } };
  const world: Pick<World, 'officeDoor'> & Partial<Pick<World, 'signingKey'>> = { officeDoor: options.officeDoor };
  let opened: Promise<Authorities> | undefined;
  const authorities = (): Promise<Authorities> => (opened ??= openAuthorities(options.dir, new Date(), options.ready));
  let keys: Promise<Keyring> | undefined;
  const keyring = (): Promise<Keyring> => (keys ??= openKeyring(options.dir, new Date(), options.ready));
  const host = await openMailHost({
    port: options.smtpPort,
    store,
    behaviour: () => behaviour.current,
    officeDomain: options.officeDomain ?? 'larkmoor.example',
    officeDoor: () => world.officeDoor,
  });
  const door = await openDoor({
    port: options.httpPort,
    store,
    behaviour,
    authorities,
    keyring,
    officeDoor: () => world.officeDoor,
    signingKey: (domain) => world.signingKey?.(domain),
  });
  // By UDP, where HTTP is by TCP: one number less to be told of.
  const names = await openNames(door.port, options.officeDomain ?? 'larkmoor.example');
  world.signingKey = (domain) => names.keyOf(domain);
  return Object.assign(world, {
    signingKey: names.keyOf,
    smtpPort: host.port,
    httpPort: door.port,
    store,
    behaviour,
    authorities,
    keyring,
    async stop() {
      door.server.closeAllConnections();
      await new Promise((done) => door.server.close(done));
      await host.close();
      await names.close();
    },
  });
}
