import { later } from '@under-lock/ui/later';
import { useLocalSearchParams } from 'expo-router';

const WordsScreen = later(async () => (await import('../../../../../src/rules/WordsScreen')).WordsScreen);

export default function Words() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <WordsScreen key={id} id={id} />;
}
