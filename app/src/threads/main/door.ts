import { type Remote } from 'comlink';
import { doorTo } from '../start';
import { type Door } from './thread';

type Doors = { [Room in keyof Door]: Remote<Door[Room]> };

/** The main thread of the work. */
export const door = doorTo<Door>('main') as unknown as () => Doors;

export { proxy as callback } from 'comlink';
