import { type Remote } from 'comlink';
import { doorTo } from '../start';
import { type KeysDoor } from './thread';

type Doors = { [Room in keyof KeysDoor]: Remote<KeysDoor[Room]> };

/** The certificate thread. */
export const keysDoor = doorTo<KeysDoor>('keys') as unknown as () => Doors;
