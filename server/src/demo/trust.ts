/**
 * The demo's office trusts its own authority and one that others use, and takes the word of an insurer for its people's
 * OpenPGP keys; whoever looks after its domain has entered its records. All run in the simulated outside world.
 */
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { keyHost, pointingAt } from '@under-lock/core/openpgp/key-host';
import { openPgpKeysIn } from '@under-lock/core/openpgp/in-file';
import { addAnchor } from '../certificate/trust';
import { addTrustedKey } from '../openpgp/trust';
import { type Context } from '../context';
import { publishedKeys } from '../mail/dkim';

const answerSchema = z.object({ authorities: z.array(z.object({ name: z.string(), root: z.string() })) });

/** It starts beside us, and makes its keys at the first call. */
async function asked(url: string): Promise<unknown> {
  for (let tries = 0; ; tries++) {
    try {
      return await (await fetch(url, { signal: AbortSignal.timeout(60_000) })).json();
    } catch (error) {
      if (tries === 60) throw error;
      await new Promise((done) => setTimeout(done, 500));
    }
  }
}

export async function trustOutside(context: Context): Promise<void> {
  const { outsideUrl, office, roomOrigin } = context.config;
  if (outsideUrl === undefined) return;
  for (const { root } of answerSchema.parse(await asked(`${outsideUrl}/authorities`)).authorities) {
    await addAnchor(context, undefined, { id: randomUUID(), certificate: new Uint8Array(Buffer.from(root, 'base64')) });
  }
  const vouching = await fetch(`${outsideUrl}/web/northquay.example/openpgp/vouching.asc`);
  for (const { bytes } of await openPgpKeysIn(new Uint8Array(await vouching.arrayBuffer())))
    await addTrustedKey(context, undefined, { id: randomUUID(), key: bytes });
  const [signing] = await publishedKeys(context);
  for (const entry of [
    ...(signing === undefined ? [] : [{ name: signing.record.name, type: 'TXT', data: signing.record.value }]),
    { name: keyHost(office.mailDomain), ...pointingAt(roomOrigin) },
  ])
    await fetch(`${outsideUrl}/names`, { method: 'POST', body: JSON.stringify(entry) });
}
