import { later } from '@under-lock/ui/later';
import { useLocalSearchParams } from 'expo-router';

const PresetScreen = later(async () => (await import('../../../../src/office/PresetScreen')).PresetScreen);

/** Another preset is another form: nothing of the one before may linger. */
export default function Preset() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PresetScreen key={id} id={id} />;
}
