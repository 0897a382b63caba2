/** Something left in a slot by a program that follows the page’s steps, and types what no page would let through. */
import { randomBytes } from 'node:crypto';
import { createClient } from '@under-lock/contract/client';
import * as slotApi from '@under-lock/contract/slot';
import { type Bytes, toBase64Url } from '@under-lock/core/bytes';
import { sealFor, sealLeft } from '@under-lock/core/slot/left';
import { type Puzzles, solve } from '@under-lock/core/slot/work';
import { type House } from './house';

interface Typed {
  address: string;
  name: string;
  subject: string;
  text: string;
  file: string;
}

/** @param token The slot’s, where nobody has to prove their mailbox */
export async function leaveByProgram({ origin }: House, token: string, typed: Typed): Promise<void> {
  // No page stands behind it: it says that one does.
  const client = createClient(origin, (target, request) => {
    const headers = new Headers(request?.headers);
    headers.set('Origin', origin);
    return fetch(target, { ...request, headers });
  });
  const { name, work } = await client(slotApi.lookAtSlot, { params: { token } });
  const sealed = await sealLeft({
    from: { name: typed.name, address: typed.address },
    to: { name, address: 'slot@larkmoor.example' },
    subject: typed.subject,
    text: typed.text,
    files: [{ name: typed.file, type: 'application/pdf', bytes: new Uint8Array(randomBytes(20)) }],
    date: new Date(),
  });
  const ticket = toBase64Url(new Uint8Array(randomBytes(32)));
  const { behind } = await client(slotApi.beginLeaving, {
    params: { token },
    body: {
      ticket,
      address: typed.address,
      language: 'en',
      size: sealed.content.length,
      work: { challenge: work.challenge, solution: solve(work as Puzzles) },
    },
  });
  await client(slotApi.putLeftPart, { params: { ticket, index: 0 }, body: sealed.content as Bytes });
  const left = await sealFor(sealed, { code: 'K7QM2-X9P3T' }, behind);
  await client(slotApi.leaveInSlot, { params: { ticket }, body: { left } });
}
