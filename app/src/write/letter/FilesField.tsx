/** Files by choosing and by dropping, above the text's end: what has come, what is coming, what did not fit. */
import { type DraftFile } from '@under-lock/core/outgoing/draft';
import { sizeInWords } from '@under-lock/core/when';
import { border, Button, colour, Progress, radius, Row, space, Text, TextButton } from '@under-lock/ui';
import * as DocumentPicker from 'expo-document-picker';
import { useSyncExternalStore } from 'react';
import { Pressable, ScrollView, StyleSheet, View } from 'react-native';
import { type Coming, type useFiles } from './useFiles';

type Files = ReturnType<typeof useFiles>;

function Kept({ file, onRemove }: { file: DraftFile; onRemove: (blobId: string) => void }) {
  return (
    <View role="listitem" style={styles.chip}>
      <Text kind="small" numberOfLines={1} style={styles.name}>
        {file.name}
      </Text>
      <Text kind="small" tone="soft" style={styles.size}>
        {sizeInWords(file.size)}
      </Text>
      <Pressable
        role="button"
        aria-label={`Remove ${file.name}`}
        onPress={() => onRemove(file.blobId)}
        style={styles.remove}
      >
        <Text kind="label" tone="soft">
          ✕
        </Text>
      </Pressable>
    </View>
  );
}

function KeptPart({ one: { done, name } }: { one: Coming }) {
  const part = useSyncExternalStore(done.watch, done.get);
  return <Progress done={part} label={`Sealing and keeping ${name}`} />;
}

function OnTheWay({ one, desk }: { one: Coming; desk: Files }) {
  return (
    <View style={[styles.coming, one.error !== undefined && styles.failed]}>
      <Row style={styles.between}>
        <Text kind="small" numberOfLines={1} style={styles.name}>
          {`${one.name} · ${sizeInWords(one.size)}`}
        </Text>
        <Row>
          {one.error === undefined ? null : (
            <Button label="Try again" describe={`Try again: ${one.name}`} onPress={() => void desk.bring(one)} />
          )}
          <Button
            kind="quiet"
            label="Cancel"
            describe={`Cancel ${one.name}`}
            onPress={() => void desk.cancel(one.blobId)}
          />
        </Row>
      </Row>
      {one.error === undefined ? <KeptPart one={one} /> : <Text kind="small" tone="brick">{`■ ${one.error}`}</Text>}
    </View>
  );
}

/** By choosing; dropping works anywhere on the letter. */
export function AddFiles({ desk }: { desk: Files }) {
  const choose = async (): Promise<void> => {
    const picked = await DocumentPicker.getDocumentAsync({
      multiple: true,
      base64: false,
    } as DocumentPicker.DocumentPickerOptions);
    if (!picked.canceled) desk.add(picked.assets.flatMap(({ file }) => (file === undefined ? [] : [file])));
  };
  return <TextButton label="Add files" onPress={() => void choose()} />;
}

export function FileList({
  files,
  limit,
  desk,
  onRemove,
}: {
  files: readonly DraftFile[];
  limit: number;
  desk: Files;
  onRemove: (blobId: string) => void;
}) {
  const sum = [...files, ...desk.coming].reduce((total, { size }) => total + size, 0);
  return (
    <View>
      {desk.coming.map((one) => (
        <OnTheWay key={one.blobId} one={one} desk={desk} />
      ))}
      {files.length === 0 ? null : (
        // Sixty of them scroll in one line: the text keeps its room.
        <ScrollView horizontal contentContainerStyle={styles.chips} role="list" aria-label="Files">
          {files.map((file) => (
            <Kept key={file.blobId} file={file} onRemove={onRemove} />
          ))}
        </ScrollView>
      )}
      {sum === 0 ? null : (
        <Text kind="small" tone={sum > limit ? 'brick' : 'soft'}>
          {`${sizeInWords(sum)} of ${sizeInWords(limit)}`}
        </Text>
      )}
      {desk.refused === undefined ? null : (
        <Text kind="small" tone="brick" aria-live="polite">{`■ ${desk.refused}`}</Text>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  chips: { gap: space.s, paddingVertical: space.xs },
  chip: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: space.s,
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.s,
    paddingLeft: space.m,
    maxWidth: 260,
  },
  name: { flexShrink: 1, minWidth: 0 },
  size: { flexShrink: 0, whiteSpace: 'nowrap' } as object,
  remove: { width: 40, height: 40, alignItems: 'center', justifyContent: 'center' },
  coming: {
    width: '100%',
    gap: space.xs,
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.s,
    paddingHorizontal: space.m,
    paddingBottom: space.s,
  },
  failed: { borderColor: colour.brick },
  between: { justifyContent: 'space-between', flexWrap: 'nowrap' },
});
