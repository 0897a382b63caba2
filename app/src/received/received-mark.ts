/** What a list says of something received. */
import { heldMark, type Mark } from '../handling/held-mark';
import { type InReceived } from './useReceived';

export const receivedMark = (message: InReceived): Mark | undefined =>
  heldMark(message.kind === 'held' ? message : { state: 'held', unread: message.unread });

/** It can be read and was not. */
export const isWaiting = (message: InReceived): boolean => receivedMark(message)?.tone === 'wants';
