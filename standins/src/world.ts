/** The whole outside world as one process. */
import { type Behaviour } from './behaviour';
import { openDoor } from './door';
import { openMailHost } from './mail-host';
import { openStore, type Store } from './store';

export interface World {
  smtpPort: number;
  httpPort: number;
  store: Store;
  behaviour: { current: Behaviour };
  /** Where the office takes delivery reports; may be told later. */
  reportsTo: { host: string; port: number } | undefined;
  stop(): Promise<void>;
}

export async function startWorld(options: { smtpPort: number; httpPort: number; dir?: string; reportsTo?: { host: string; port: number } }): Promise<World> {
  const store = openStore(options.dir);
  const behaviour: { current: Behaviour } = { current: { mail: 'deliver', phone: 'deliver' } };
  const world: Pick<World, 'reportsTo'> = { reportsTo: options.reportsTo };
  const host = await openMailHost({ port: options.smtpPort, store, behaviour: () => behaviour.current, reportsTo: () => world.reportsTo });
  const door = await openDoor({ port: options.httpPort, store, behaviour });
  return Object.assign(world, {
    smtpPort: host.port,
    httpPort: door.port,
    store,
    behaviour,
    async stop() {
      door.server.closeAllConnections();
      await new Promise((done) => door.server.close(done));
      await host.close();
    },
  });
}
