import { later } from '@under-lock/ui/later';
import { useLocalSearchParams } from 'expo-router';

const RuleScreen = later(async () => (await import('../../../../src/rules/RuleScreen')).RuleScreen);

/** Another rule is another form, and so is one that has just been kept. */
export default function Rule() {
  const { id, copy, kept } = useLocalSearchParams<{ id: string; copy?: string; kept?: string }>();
  return <RuleScreen key={`${id} ${copy} ${kept}`} id={id} copyOf={copy} />;
}
