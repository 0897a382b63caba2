import { type Person } from '@under-lock/core/people/kept-person';
import { firmOf } from '../people/sorted-people';
import { WayLink } from '../shell/WayLink';

/** From a person to everybody at the domain of their address. */
export const FirmLink = ({ person }: { person: Pick<Person, 'address'> }) => (
  <WayLink
    href={`/people/firm/${encodeURIComponent(firmOf(person))}`}
    label={`Everybody at ${firmOf(person)}`}
    forward
  />
);
