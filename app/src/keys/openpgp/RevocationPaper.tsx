/**
 * The revocation certificate made with the key: to be printed and kept apart, for the day on which key and vault are
 * lost.
 */
import { Button, Prose, Row, Section, Text } from '@under-lock/ui';
import { usePaper } from '@under-lock/reader/use-paper';
import { useState } from 'react';
import { createPortal } from 'react-dom';
import { StyleSheet, View } from 'react-native';
import { saveFile } from '../../save-file';
import { keysDoor } from '../../threads/keys/door';
import { fingerprintInGroups } from '../words';
import { type OwnOpenPgpKey } from './own-key';

/** What a printer gets: the text in full, and what it is for. */
function OnPaper({ own: { view }, text }: { own: OwnOpenPgpKey; text: string }) {
  const paper = usePaper();
  if (paper === undefined) return null;
  return createPortal(
    <>
      <h1>{`Revocation certificate for the OpenPGP key of ${view.name}`}</h1>
      <p>{`${view.addresses.join(', ')}. ${USE}`}</p>
      <p>{`Fingerprint: ${fingerprintInGroups(view.fingerprint)}`}</p>
      <pre>{text}</pre>
    </>,
    paper,
  );
}

const USE =
  'To revoke the key, import this text into any OpenPGP program, or bring it under Keys, Bring one from a file.';

export function RevocationPaper({ own }: { own: OwnOpenPgpKey }) {
  const [text, setText] = useState<string | undefined>();
  if (!own.hasRevocation || own.view.revocation !== undefined) return null;
  const name = `openpgp-key-${own.view.fingerprint.slice(-16)}-revocation.asc`;
  const save = async (): Promise<void> =>
    saveFile(new TextEncoder().encode(await keysDoor().openpgp.revocation(own.id)), name, 'application/pgp-keys');
  return (
    <Section title="Revocation certificate">
      <Text kind="small" tone="soft">
        Made with the key. If you lose both the key and this vault, whoever has this text can still tell everybody not
        to use the key any more. Print it, and keep it where nobody else gets at it: it needs no password.
      </Text>
      {text === undefined ? null : (
        <View style={styles.paper} role="region" aria-label="Revocation certificate" tabIndex={0}>
          <OnPaper own={own} text={text} />
          <Text kind="strong">{`Revocation certificate for the OpenPGP key of ${own.view.name}, ${own.view.addresses.join(', ')}`}</Text>
          <Text kind="mono">{fingerprintInGroups(own.view.fingerprint)}</Text>
          <Text kind="small">{USE}</Text>
          <Prose kind="mono" selectable>
            {text}
          </Prose>
        </View>
      )}
      <Row>
        {text === undefined ? (
          <Button
            label="Show it"
            describe="Show it: the revocation certificate"
            onPress={() => void keysDoor().openpgp.revocation(own.id).then(setText)}
          />
        ) : (
          <Button label="Print it" describe="Print it: the revocation certificate" onPress={() => window.print()} />
        )}
        <Button
          label="Save as a file"
          describe="Save as a file: the revocation certificate"
          onPress={() => void save()}
        />
        {text === undefined ? null : (
          <Button
            kind="quiet"
            label="Hide it"
            describe="Hide it: the revocation certificate"
            onPress={() => setText(undefined)}
          />
        )}
      </Row>
    </Section>
  );
}

const styles = StyleSheet.create({
  paper: { gap: 8 },
});
