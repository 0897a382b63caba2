import { proxy, type Remote, wrap } from 'comlink';
import '../errors';
import { startThread } from '../start';
import { type ScanDoor } from './thread';

let remote: Remote<ScanDoor> | undefined;

/** The scan thread, started at the first call. */
export const scanDoor = (): Remote<ScanDoor> =>
  (remote ??= wrap<ScanDoor>(startThread('scan', () => (remote = undefined))));

export { proxy as callback };
