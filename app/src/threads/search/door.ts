import { proxy, type Remote, wrap } from 'comlink';
import '../errors';
import { startThread } from '../start';
import { type SearchDoor } from './thread';

let remote: Remote<SearchDoor> | undefined;

/** The search thread, started at the first call. */
export const searchDoor = (): Remote<SearchDoor> =>
  (remote ??= wrap<SearchDoor>(startThread('search', () => (remote = undefined))));

export { proxy as callback };
