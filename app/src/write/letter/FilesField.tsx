/** Files by choosing and by dropping: sealed and kept with the draft at once, with progress that is true. */
import { safeFileName } from '@under-lock/core/file-name';
import { sizeInWords } from '@under-lock/core/when';
import { border, Button, colour, Progress, radius, Row, space, Text } from '@under-lock/ui';
import * as DocumentPicker from 'expo-document-picker';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { problemWords } from '../../problem-words';
import { callback, door } from '../../threads/main/door';
import { type DraftFile } from '@under-lock/core/outgoing/draft';

interface Coming {
  blobId: string;
  name: string;
  size: number;
  done: number;
  error?: string;
  file: File;
}

const MAX_FILES = 100;

export function useFiles(
  files: readonly DraftFile[],
  maxBytes: number,
  change: (edit: (files: DraftFile[]) => DraftFile[]) => void,
) {
  const [coming, setComing] = useState<Coming[]>([]);
  const [refused, setRefused] = useState<string | undefined>();
  const update = (blobId: string, next: Partial<Coming>): void =>
    setComing((list) => list.map((one) => (one.blobId === blobId ? { ...one, ...next } : one)));
  const remove = (blobId: string): void => setComing((list) => list.filter((one) => one.blobId !== blobId));

  const bring = async ({ blobId, file }: Pick<Coming, 'blobId' | 'file'>): Promise<void> => {
    try {
      const key = await door().message.makeKey();
      await door().message.addFile(
        file,
        blobId,
        key,
        callback((done: number) => update(blobId, { done })),
      );
      change((list) => [...list, { blobId, name: safeFileName(file.name), type: file.type, size: file.size, key }]);
      remove(blobId);
    } catch (error) {
      if (error instanceof Error && error.name === 'AbortError') remove(blobId);
      else update(blobId, { error: problemWords(error) });
    }
  };
  const add = (chosen: File[]): void => {
    setRefused(undefined);
    let sum = [...files, ...coming].reduce((total, { size }) => total + size, 0);
    const fitting: File[] = [];
    const tooLarge: string[] = [];
    for (const file of chosen) {
      if (sum + file.size > maxBytes || files.length + coming.length + fitting.length >= MAX_FILES)
        tooLarge.push(file.name);
      else {
        sum += file.size;
        fitting.push(file);
      }
    }
    if (tooLarge.length > 0)
      setRefused(
        `${tooLarge.join(', ')} ${tooLarge.length === 1 ? 'does' : 'do'} not fit: a message holds ${sizeInWords(maxBytes)}. Make it smaller, or send it in a message of its own.`,
      );
    const started = fitting.map((file): Coming => ({
      blobId: crypto.randomUUID(),
      name: safeFileName(file.name),
      size: file.size,
      done: 0,
      file,
    }));
    setComing((list) => [...list, ...started]);
    for (const one of started) void bring(one);
  };
  return {
    coming,
    refused,
    add,
    bring,
    async cancel(blobId: string) {
      remove(blobId);
      await door()
        .message.removeFile(blobId)
        .catch(() => undefined);
    },
  };
}

export function FilesField({
  files,
  limit,
  desk,
  onRemove,
}: {
  files: readonly DraftFile[];
  limit: number;
  desk: ReturnType<typeof useFiles>;
  onRemove: (blobId: string) => void;
}) {
  const sum = [...files, ...desk.coming].reduce((total, { size }) => total + size, 0);
  const choose = async (): Promise<void> => {
    const picked = await DocumentPicker.getDocumentAsync({
      multiple: true,
      base64: false,
    } as DocumentPicker.DocumentPickerOptions);
    if (!picked.canceled) desk.add(picked.assets.flatMap(({ file }) => (file === undefined ? [] : [file])));
  };
  return (
    <View style={styles.field}>
      <Row>
        {files.map((file) => (
          <View key={file.blobId} style={styles.chip}>
            <Text kind="small" style={styles.wrap}>
              {file.name}
            </Text>
            <Text kind="small" tone="soft">
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
        ))}
      </Row>
      {desk.coming.map((one) => (
        <View key={one.blobId} style={styles.coming}>
          <Row style={styles.between}>
            <Text kind="small" style={styles.wrap}>{`${one.name} · ${sizeInWords(one.size)}`}</Text>
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
          {one.error === undefined ? (
            <Progress done={one.done} label={`Sealing and keeping ${one.name}`} />
          ) : (
            <Text kind="small" tone="brick">{`■ ${one.error}`}</Text>
          )}
        </View>
      ))}
      <Row style={styles.between}>
        <Button label="Add files" onPress={() => void choose()} />
        <Text kind="small" tone={sum > limit ? 'brick' : 'soft'}>
          {sum === 0
            ? `Files up to ${sizeInWords(limit)}; or drop them here`
            : `${sizeInWords(sum)} of ${sizeInWords(limit)}`}
        </Text>
      </Row>
      {desk.refused === undefined ? null : (
        <Text kind="small" tone="brick" aria-live="polite">{`■ ${desk.refused}`}</Text>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  field: { gap: space.m },
  chip: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: space.s,
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.s,
    paddingLeft: space.m,
    maxWidth: '100%',
  },
  remove: { width: space.touch, height: space.touch, alignItems: 'center', justifyContent: 'center' },
  coming: { gap: space.xs },
  between: { justifyContent: 'space-between' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
