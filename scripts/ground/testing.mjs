import { at } from './paths.mjs';
import { startCluster } from './cluster.mjs';

/** The cluster that tests fill and throw away. */
export const startTestCluster = () => startCluster(at('.tmp', 'test'), { throwaway: true });
