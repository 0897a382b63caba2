import { wrap, type Remote } from 'comlink';
import '../errors';
import { type KeysDoor } from './thread';

type Doors = { [Room in keyof KeysDoor]: Remote<KeysDoor[Room]> };

let remote: Doors | undefined;

/** The certificate thread, started at the first call. */
export const keysDoor = (): Doors =>
  (remote ??= wrap<KeysDoor>(new Worker('/keys-worker.js', { type: 'module' })) as unknown as Doors);
