/** The frame around every page: a rail of words on a wide screen, a bar under the thumb on a phone. */
import { border, Button, colour, font, measure, space, type } from '@under-lock/ui';
import { Link, Slot, usePathname } from 'expo-router';
import { later } from '@under-lock/ui/later';
import { useCallback, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { KeysDialog } from '../keyboard/KeysDialog';
import { usePressedKeys } from '../keyboard/usePressedKeys';
import { useNews } from '../news/useNews';
import { useOffice } from '../session/useOffice';
import { OldVault } from './OldVault';
import { Connection } from './Connection';
import { useWide } from '../shell/Screen';
import { Undo } from '../shell/Undo';
import { useTypingLow } from '../shell/useTypingLow';

const SETTLED_MS = 10_000;
/** Once a day's work; fetched when the first page has long been drawn. */
const AfterAll = later(async () => {
  await new Promise((done) => setTimeout(done, SETTLED_MS));
  return (await import('./AfterAll')).AfterAll;
});

const places = [
  { href: '/desk', label: 'Desk' },
  { href: '/write', label: 'Write' },
  { href: '/mail', label: 'Mail' },
  { href: '/people', label: 'People' },
  { href: '/keys', label: 'Keys' },
  { href: '/office', label: 'Office' },
  { href: '/account', label: 'Account' },
] as const;

interface PlaceProps {
  href: string;
  label: string;
  wide: boolean;
  shortcut?: string;
}

function Place({ href, label, wide, shortcut }: PlaceProps) {
  const path = usePathname();
  const here = path === href || path.startsWith(`${href}/`);
  return (
    <Link
      href={href as never}
      aria-current={here ? 'page' : undefined}
      {...(shortcut === undefined ? {} : { 'aria-keyshortcuts': shortcut })}
      style={
        [
          styles.place,
          wide ? styles.railPlace : styles.barPlace,
          here && (wide ? styles.railHere : styles.barHere),
        ] as never
      }
    >
      <Text style={[styles.label, !wide && styles.barLabel, here && styles.hereLabel]}>{label}</Text>
    </Link>
  );
}

export function Shell() {
  const wide = useWide();
  const low = useTypingLow();
  const [keysShown, setKeysShown] = useState(false);
  usePressedKeys(useCallback(() => setKeysShown(true), []));
  useNews();
  const { data: office } = useOffice();
  const nav = (
    <View role="navigation" aria-label="Places" style={wide ? styles.rail : styles.bar}>
      {wide ? <Text style={styles.name}>Under Lock</Text> : null}
      {places.map((place, index) => (
        <Place key={place.href} {...place} wide={wide} shortcut={String(index + 1)} />
      ))}
      {wide ? <View style={styles.gap} /> : null}
      {wide && office?.outsideUrl !== undefined ? <Place href="/outside" label="Outside world" wide /> : null}
      {wide ? (
        <View style={styles.keys}>
          <Button
            kind="quiet"
            label="Press ?"
            describe="Press ? for the keys there are"
            shortcut="?"
            onPress={() => setKeysShown(true)}
          />
        </View>
      ) : null}
    </View>
  );
  return (
    <View style={[styles.frame, wide && styles.wideFrame]}>
      {wide ? nav : null}
      <View style={styles.page}>
        <Connection />
        <OldVault />
        <Slot />
        <Undo />
      </View>
      {wide || low ? null : nav}
      <AfterAll />
      <KeysDialog open={keysShown} onClose={() => setKeysShown(false)} />
    </View>
  );
}

const styles = StyleSheet.create({
  frame: { flex: 1, backgroundColor: colour.ground, width: '100%', height: '100%' },
  wideFrame: { flexDirection: 'row' },
  page: { flex: 1, minHeight: 0, minWidth: 0 },
  rail: {
    width: measure.rail,
    paddingVertical: space.xl,
    borderRightWidth: border.hair,
    borderRightColor: colour.line,
  },
  bar: {
    flexDirection: 'row',
    height: 60,
    backgroundColor: colour.paper,
    borderTopWidth: border.hair,
    borderTopColor: colour.line,
  },
  name: {
    fontFamily: font.sans,
    fontSize: 17,
    lineHeight: 20,
    fontWeight: '700',
    color: colour.ink,
    paddingHorizontal: space.l,
    marginBottom: space.l,
  },
  gap: { flex: 1 },
  keys: { paddingHorizontal: space.l - 1, alignItems: 'flex-start' },
  place: { display: 'flex', justifyContent: 'center', textDecorationLine: 'none' } as object,
  railPlace: {
    minHeight: space.touch,
    paddingHorizontal: space.l - 3,
    paddingVertical: space.s,
    borderLeftWidth: 3,
    borderLeftColor: 'transparent',
    alignItems: 'center',
    justifyContent: 'flex-start',
  },
  railHere: { backgroundColor: colour.paper, borderLeftColor: colour.sea },
  barPlace: { flex: 1, alignItems: 'center', borderTopWidth: 3, borderTopColor: 'transparent' },
  barHere: { borderTopColor: colour.sea },
  label: { ...type.strong, fontSize: 15, lineHeight: 20, color: colour.soft },
  barLabel: { fontSize: 13 },
  hereLabel: { color: colour.sea },
});
