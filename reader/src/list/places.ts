import { FROM_LIST } from '../address';

/** Going from one page to the other: each is loaded by its own address, so that back and reload work as everywhere. */
export const LIST_PATH = '/room/list';
export const toList = (): void => window.location.assign(LIST_PATH);
export const toMessage = (grantId: string): void => window.location.assign(`/room/${grantId}${FROM_LIST}`);
