/** What is said of mail slots. */
import { type MailSlot } from '@under-lock/contract/slot';
import { listed } from '../handling/words';

type Of = Pick<MailSlot, 'kind' | 'name' | 'mine'>;

export const slotTitle = ({ kind, name, mine }: Of): string =>
  kind === 'colleague' ? (mine ? 'Yours' : name) : kind === 'office' ? 'The office’s' : name;

/** Who has what is left there. */
export function behindWords({ people }: Pick<MailSlot, 'people'>): string {
  const ready = people.filter(({ ready: is }) => is).map(({ name }) => name);
  const others = people.length - ready.length;
  if (ready.length === 0)
    return 'Nobody behind it has a key yet, so nothing can be left there: they get one when they first sign in.';
  const without = others === 0 ? '' : ` ${others === 1 ? 'One has' : `${others} have`} no key yet and gets nothing.`;
  return `What is left there is sealed to ${listed(ready, 'and')}.${without}`;
}
