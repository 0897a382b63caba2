import { heldMark } from '../src/handling/held-mark';
import { isWaiting, receivedMark } from '../src/received/received-mark';
import { type InReceived } from '../src/received/useReceived';

const held = (state: string, unread: boolean) => ({ kind: 'held', state, unread }) as InReceived;
const mail = (unread: boolean) => ({ kind: 'mail', unread }) as InReceived;

test('what can’t be read any more waits for nobody, read or not', () => {
  expect([held('closed', true), held('withdrawn', true), held('closed', false)].map(receivedMark)).toEqual([
    { tone: 'over', word: 'Closed' },
    { tone: 'over', word: 'Withdrawn' },
    { tone: 'over', word: 'Closed' },
  ]);
  expect([held('closed', true), held('held', false), mail(false)].map(isWaiting)).toEqual([false, false, false]);
  expect([held('held', true), mail(true)].map(isWaiting)).toEqual([true, true]);
  expect(heldMark({ state: 'held', unread: false })).toBeUndefined();
});
