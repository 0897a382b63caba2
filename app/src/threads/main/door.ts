import { proxy, wrap, type Remote } from 'comlink';
import '../errors';
import { startThread } from '../start';
import { type Door } from './thread';

type Doors = { [Room in keyof Door]: Remote<Door[Room]> };

let remote: Doors | undefined;

/** The main thread of the work, started at the first call. */
export const door = (): Doors =>
  (remote ??= wrap<Door>(startThread('main', () => (remote = undefined))) as unknown as Doors);

export { proxy as callback };
