/** The outside world by HTTP: the phone operator's gateway for texts, and windows into mailboxes and phones. */
import Router from '@koa/router';
import { createServer, type Server } from 'node:http';
import { type AddressInfo } from 'node:net';
import Koa from 'koa';
import { type Authorities } from './authority/authorities';
import { certificateRoutes } from './authority/door';
import { type Behaviour, behaviourSchema } from './behaviour';
import { checked, json } from './body';
import { type Entry, entrySchema } from './dns';
import { type MailboxOptions, mailboxRoutes } from './mailbox-door';
import { openPgpRoutes } from './openpgp/door';
import { type Keyring } from './openpgp/keyring';
import { phoneRoutes } from './phone-door';

export interface OutsideDoor {
  port: number;
  server: Server;
}

interface DoorOptions extends MailboxOptions {
  port: number;
  behaviour: { current: Behaviour };
  authorities: () => Promise<Authorities>;
  keyring: () => Promise<Keyring>;
  enter: (entry: Entry) => void;
}

/** How this world behaves, and what its names say. */
function worldRoutes(router: Router, { behaviour, enter }: DoorOptions): void {
  router.post('/names', async (http) => {
    enter(entrySchema.parse(await json(http.req)));
    http.status = 204;
  });
  router.get('/behaviour', (http) => {
    http.body = behaviour.current;
  });
  router.put('/behaviour', async (http) => {
    behaviour.current = checked(behaviourSchema, await json(http.req));
    http.body = behaviour.current;
  });
}

/** Windows into a made-up world: any page may look. */
async function lookedInto(http: Koa.Context, next: Koa.Next): Promise<void> {
  http.set({
    'Access-Control-Allow-Origin': '*',
    'Access-Control-Allow-Methods': 'GET, PUT, POST',
    'Access-Control-Allow-Headers': 'Content-Type',
    'Cache-Control': 'no-store',
  });
  if (http.method === 'OPTIONS') {
    http.status = 204;
    return;
  }
  await next();
}

export async function openDoor(options: DoorOptions): Promise<OutsideDoor> {
  const router = new Router();
  worldRoutes(router, options);
  phoneRoutes(router, options);
  mailboxRoutes(router, options);
  certificateRoutes(router, options.authorities);
  openPgpRoutes(router, options.keyring);
  const app = new Koa();
  app.silent = true;
  app.use(lookedInto);
  app.use(router.routes());
  const server = createServer(app.callback());
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(options.port, '127.0.0.1', resolve);
  });
  return { port: (server.address() as AddressInfo).port, server };
}
