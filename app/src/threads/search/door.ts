import { doorTo } from '../start';
import { type SearchDoor } from './thread';

export const searchDoor = doorTo<SearchDoor>('search');

export { proxy as callback } from 'comlink';
