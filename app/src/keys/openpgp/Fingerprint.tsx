/**
 * A fingerprint in the three forms it can be compared in: read out in groups, read out as words, scanned as a picture.
 */
import { border, Button, colour, Loading, Row, Stack, Text } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { CopyButton } from '../../shell/CopyButton';
import { fingerprintInGroups } from '../words';
import { type OpenPgpView } from './view';

const QrPicture = later(
  async () => (await import('../../shell/QrPicture')).QrPicture,
  () => <Loading what="Drawing it" />,
);

export function Fingerprint({ view }: { view: Pick<OpenPgpView, 'fingerprint' | 'words' | 'uri' | 'name'> }) {
  const [form, setForm] = useState<'groups' | 'words' | 'picture'>('groups');
  return (
    <Stack style={styles.tight}>
      <Text kind="small" tone="soft">
        {form === 'picture'
          ? 'Fingerprint as a picture. Scanned by the other person’s key program, it must show the same key.'
          : form === 'words'
            ? 'Fingerprint as words. Read them out to each other on the phone, in this order: every word must be the same.'
            : 'Fingerprint. Read it out to each other on the phone: every group must be the same.'}
      </Text>
      {form === 'groups' ? (
        <Text kind="mono" style={styles.wrap}>
          {fingerprintInGroups(view.fingerprint)}
        </Text>
      ) : null}
      {form === 'words' ? (
        <Text kind="mono" style={styles.wrap}>
          {view.words.map((word, index) => `${index + 1}\u00a0${word}`).join('  ')}
        </Text>
      ) : null}
      {form === 'picture' ? (
        <View style={styles.picture}>
          <QrPicture text={view.uri} label={`Fingerprint of ${view.name} as a QR picture`} />
        </View>
      ) : null}
      <Row>
        <CopyButton value={view.fingerprint} what="the fingerprint" />
        {(['groups', 'words', 'picture'] as const)
          .filter((one) => one !== form)
          .map((one) => (
            <Button
              key={one}
              kind="quiet"
              label={{ groups: 'In groups', words: 'As words', picture: 'As a picture' }[one]}
              describe={`${{ groups: 'In groups', words: 'As words', picture: 'As a picture' }[one]}: fingerprint of ${view.name}`}
              onPress={() => setForm(one)}
            />
          ))}
      </Row>
    </Stack>
  );
}

const styles = StyleSheet.create({
  tight: { gap: border.strong },
  wrap: { overflowWrap: 'anywhere' } as object,
  picture: { alignSelf: 'flex-start', backgroundColor: colour.paper },
});
