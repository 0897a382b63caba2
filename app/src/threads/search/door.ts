import { proxy, type Remote, wrap } from 'comlink';
import '../errors';
import { type SearchDoor } from './thread';

let remote: Remote<SearchDoor> | undefined;

/** The search thread, started at the first call. */
export const searchDoor = (): Remote<SearchDoor> =>
  (remote ??= wrap<SearchDoor>(new Worker('/search-worker.js', { type: 'module' })));

export { proxy as callback };
