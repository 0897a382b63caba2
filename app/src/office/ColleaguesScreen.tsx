import { Screen } from '../shell/Screen';
import { AdministratorsOnly, toOffice } from './AdministratorsOnly';
import { InvitePanel } from './InvitePanel';

/** Who works here, and inviting somebody. */
export const ColleaguesScreen = () => (
  <AdministratorsOnly title="Colleagues" sentence="Who works here is kept by the office’s administrators.">
    <Screen title="Colleagues" back={toOffice}>
      <InvitePanel />
    </Screen>
  </AdministratorsOnly>
);
