import { doorTo } from '../start';
import { type ScanDoor } from './thread';

export const scanDoor = doorTo<ScanDoor>('scan');

export { proxy as callback } from 'comlink';
