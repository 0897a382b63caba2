/** What is seen to while somebody is signed in, without anything on the screen; it comes when all else is there. */
import { TakenChoices } from '../office-book/TakenChoices';
import { KeyRefresh } from '../people/refresh-keys';
import { RemovedDrafts } from '../write/removed';

export const AfterAll = () => (
  <>
    <KeyRefresh />
    <TakenChoices />
    <RemovedDrafts />
  </>
);
