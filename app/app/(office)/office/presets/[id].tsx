import { useLocalSearchParams } from 'expo-router';
import { PresetScreen } from '../../../../src/handling/PresetScreen';

/** Another preset is another form: nothing of the one before may linger. */
export default function Preset() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PresetScreen key={id} id={id} />;
}
