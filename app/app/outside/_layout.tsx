import { colour } from '@under-lock/ui';
import { Slot } from 'expo-router';
import { StyleSheet, View } from 'react-native';

/** Outside there is no sign-in and no office around the page. */
export default function Layout() {
  return (
    <View style={styles.page}>
      <Slot />
    </View>
  );
}

const styles = StyleSheet.create({ page: { flex: 1, backgroundColor: colour.ground, alignItems: 'center' } });
