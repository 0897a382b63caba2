import { proxy, wrap, type Remote } from 'comlink';
import '../errors';
import { type Door } from './thread';

type Doors = { [Room in keyof Door]: Remote<Door[Room]> };

let remote: Doors | undefined;

/** The worker thread, started at the first call. */
export const door = (): Doors => (remote ??= wrap<Door>(new Worker('/core-worker.js')) as unknown as Doors);

export { proxy as callback };
