/** The phone operator: texts, permits for one text, calls that are spoken, and a window into everybody's phone. */
import type Router from '@koa/router';
import { type RouterContext } from '@koa/router';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { type Behaviour, pause, SLOW_MS } from './behaviour';
import { checked, json } from './body';
import { demoPhones } from './people';
import { type Store } from './store';

const textSchema = z.object({ to: z.string().regex(/^\+[1-9]\d{4,14}$/), text: z.string().min(1).max(1000) });
const permitSchema = textSchema.pick({ to: true });
const handedInSchema = z.object({ permit: z.string().max(100), text: z.string().min(1).max(1000) });
const PERMIT_MS = 600_000;
const callSchema = z.object({
  to: z.string().regex(/^\+[1-9]\d{4,14}$/),
  say: z.string().min(1).max(1000),
  language: z.string().max(20),
});

interface Operator {
  store: Store;
  behaviour: { current: Behaviour };
}

/** The same text handed over twice is one. */
function gatewayRoutes(router: Router, { store, behaviour }: Operator): void {
  const seen = new Map<string, true>();
  const ring = async (
    http: RouterContext,
    arrive: (at: { id: string; at: string }, body: unknown) => void,
  ): Promise<void> => {
    const mode = behaviour.current.phone;
    if (mode === 'slow') await pause(SLOW_MS);
    if (mode === 'down') http.throw(503, 'the gateway is down');
    if (mode === 'refuse') http.throw(422, 'this number can’t be reached');
    const body = await json(http.req);
    const key = http.get('Idempotency-Key') || randomUUID();
    if (!seen.has(key)) arrive({ id: randomUUID(), at: new Date().toISOString() }, body);
    seen.set(key, true);
    http.status = 202;
    http.body = {};
  };
  router.post('/texts', (http) =>
    ring(http, (at, body) => {
      const { to, text } = checked(textSchema, body);
      store.addText({ ...at, number: to, text });
    }),
  );
  router.post('/calls', (http) =>
    ring(http, (at, body) => {
      const { to, say } = checked(callSchema, body);
      store.addText({ ...at, number: to, text: say, spoken: true });
    }),
  );
}

/**
 * Leave for one text to one number, to be handed in by whoever has it: the office's server need not see what stands in
 * it.
 */
function permitRoutes(router: Router, { store, behaviour }: Operator): void {
  const permits = new Map<string, { to: string; until: number }>();
  router.post('/texts/permits', async (http) => {
    if (behaviour.current.phone === 'down') http.throw(503, 'the gateway is down');
    const { to } = checked(permitSchema, await json(http.req));
    const permit = randomUUID();
    permits.set(permit, { to, until: Date.now() + PERMIT_MS });
    http.body = { url: `http://${http.host}/texts/handed-in`, permit };
  });
  router.post('/texts/handed-in', async (http) => {
    const { permit, text } = checked(handedInSchema, await json(http.req));
    const known = permits.get(permit);
    if (behaviour.current.phone === 'down') http.throw(503, 'the gateway is down');
    if (behaviour.current.phone === 'refuse') http.throw(422, 'this number can’t be reached');
    if (known === undefined || known.until < Date.now()) return http.throw(403, 'no such permit');
    permits.delete(permit);
    store.addText({ id: randomUUID(), at: new Date().toISOString(), number: known.to, text });
    http.status = 202;
    http.body = {};
  });
}

function phonesOf(store: Store) {
  const numbers = [...new Set([...demoPhones.map(({ number }) => number), ...store.texts.map(({ number }) => number)])];
  return numbers.map((number) => ({
    number,
    owner: demoPhones.find((phone) => phone.number === number)?.owner ?? '',
    texts: store.texts
      .filter((text) => text.number === number)
      .slice(-50)
      .reverse()
      .map(({ id, at, text, spoken = false }) => ({ id, at, text, spoken })),
  }));
}

export function phoneRoutes(router: Router, operator: Operator): void {
  gatewayRoutes(router, operator);
  permitRoutes(router, operator);
  router.get('/phones', (http) => {
    http.body = { phones: phonesOf(operator.store) };
  });
}
