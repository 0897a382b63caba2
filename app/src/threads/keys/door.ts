import { wrap, type Remote } from 'comlink';
import '../errors';
import { startThread } from '../start';
import { type KeysDoor } from './thread';

type Doors = { [Room in keyof KeysDoor]: Remote<KeysDoor[Room]> };

let remote: Doors | undefined;

/** The certificate thread, started at the first call. */
export const keysDoor = (): Doors =>
  (remote ??= wrap<KeysDoor>(startThread('keys', () => (remote = undefined))) as unknown as Doors);
