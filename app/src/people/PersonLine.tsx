/** A person in a list, one's own or the office's: who they are, and by which locks they can be reached. */
import { type Person } from '@under-lock/core/people/kept-person';
import { Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { lockShapes, lockWords } from '../locks/lock-words';
import { ListLine } from '../shell/ListLine';
import { type Means } from './means';

interface Props {
  href: string;
  person: Pick<Person, 'name' | 'address'>;
  means: readonly Means[];
  /** Under the name; the address where nothing else is said. */
  about?: string;
  aside?: string | undefined;
  last: boolean;
}

export function PersonLine({ href, person: { name, address }, means, about = address, aside, last }: Props) {
  const said = means.map(({ lock, state }) => `${lockWords[lock]}${state === 'ended' ? ', run out' : ''}`);
  return (
    <ListLine
      href={href}
      label={`${name || address}, ${address}, ${said.length === 0 ? 'no way for a passcode known' : said.join(', ')}`}
      title={name || address}
      {...(aside === undefined ? {} : { aside })}
      about={about}
      mark={means.map(({ lock, state }) => (
        <LockShape key={lock} shape={lockShapes[lock]} state={state === 'ready' ? 'filled' : 'stopped'} />
      ))}
      last={last}
    >
      {means.length > 0 ? null : (
        <Text kind="small" tone="amber">
          ▲ No way for a passcode known yet
        </Text>
      )}
    </ListLine>
  );
}
