/** One visit to the reading room: what the page asks of the server and the worker, without any screen. */
import { partCount } from '@under-lock/contract/blob';
import { createClient } from '@under-lock/contract/client';
import { ApiProblem } from '@under-lock/contract/problem';
import * as api from '@under-lock/contract/room';
import { type Handling } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import { shareFromFragment, shareProof } from '@under-lock/core/locks/room/grant';
import { type Bytes } from '@under-lock/core/bytes';
import { wrap, type Remote } from 'comlink';
import { type ReaderDoor } from './worker';

export interface Opened {
  content: MessageContent;
  handling: Handling;
  reader: { name: string; address: string };
}

export class DamagedError extends Error {}

/** A worker thread for one opening. Its script may fail to load on a bad line: then the opening fails, instead of waiting for ever. */
function startWorker(): { door: Remote<ReaderDoor>; failed: Promise<never>; end: () => void } {
  const worker = new Worker('/room/reader-worker.js');
  const failed = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new ApiProblem({ type: 'about:blank', title: 'The page could not load what opens the message', status: 0, code: 'unreachable' }));
  });
  return { door: wrap<ReaderDoor>(worker), failed, end: () => worker.terminate() };
}

const client = createClient(window.location.origin);

/** The grant and share in the address bar, or undefined when the link is not complete. */
export function visitFromAddress(): { id: string; share: Bytes } | undefined {
  const [, id] = /^\/room\/([\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12})\/?$/i.exec(window.location.pathname) ?? [];
  const share = shareFromFragment(window.location.hash);
  return id === undefined || share === undefined ? undefined : { id: id.toLowerCase(), share };
}

type Visit = NonNullable<ReturnType<typeof visitFromAddress>>;

export const look = ({ id }: Visit) => client(api.lookAtRoom, { params: { id } });
export const askPasscode = async ({ id, share }: Visit) => client(api.sendPasscode, { params: { id }, body: { proof: await shareProof(share) } });
export const enterPasscode = async ({ id, share }: Visit, passcode: string): Promise<void> => void (await client(api.enterPasscode, { params: { id }, body: { proof: await shareProof(share), passcode } }));
export const sayNotForMe = async ({ id, share }: Visit): Promise<void> => void (await client(api.sayNotForMe, { params: { id }, body: { proof: await shareProof(share) } }));
export const leave = ({ id }: Visit): Promise<unknown> => client(api.leaveRoom, { params: { id } });

/** Fetches and opens. `progress` is told the share fetched, 0 to 1. @throws ApiProblem, DamagedError */
export async function openMessage({ id, share }: Visit, progress: (done: number) => void): Promise<Opened> {
  const released = await client(api.openRoom, { params: { id } });
  const count = partCount(released.size);
  const parts: Bytes[] = [];
  for (let index = 0; index < count; index++) {
    parts.push(await client(api.getRoomPart, { params: { id, index } }));
    progress((index + 1) / count);
  }
  const { door, failed, end } = startWorker();
  try {
    const house = { houseShare: released.houseShare, wrappedKey: released.wrappedKey };
    return { content: await Promise.race([failed, door.open(parts, share, house, { grantId: id, messageId: released.messageId })]), handling: released.handling, reader: released.reader };
  } catch (error) {
    throw error instanceof ApiProblem ? error : new DamagedError('The content does not open');
  } finally {
    end();
  }
}
