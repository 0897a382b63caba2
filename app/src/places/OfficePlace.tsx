/** Office: what is said for everybody, beside its list; the rules have a list of their own. */
import { Slot, usePathname } from 'expo-router';
import { OfficeList, useIsAdministrator } from '../office/OfficeList';
import { RulesList } from '../rules/RulesPlace';
import { ListAndPage } from '../shell/ListAndPage';

/** Who is no administrator has nothing to go to but the presets. */
export function OfficePlace() {
  const inRules = usePathname().startsWith('/office/rules');
  return useIsAdministrator() ? <ListAndPage list={inRules ? <RulesList /> : <OfficeList />} /> : <Slot />;
}
