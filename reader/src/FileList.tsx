import { type Rights } from '@under-lock/core/handling/handling';
import { type MessageFile } from '@under-lock/core/message/content';
import { sizeInWords } from '@under-lock/core/when';
import { Button, Line, Panel, space, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { kindOf } from './file-kind';
import { FileView } from './FileView';
import { words } from './words/words';

function save(file: MessageFile): void {
  // Never as its own type: a saved page must not run on our origin.
  const url = URL.createObjectURL(new Blob([file.bytes], { type: 'application/octet-stream' }));
  const link = Object.assign(document.createElement('a'), { href: url, download: file.name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

interface Props {
  files: MessageFile[];
  rights: Pick<Rights, 'save' | 'print' | 'copy'>;
  pdfBase: string;
  /** Asks whether a file may be saved now. @throws when it may not */
  onSave: () => Promise<unknown>;
  onPrint: (file: MessageFile) => Promise<unknown>;
}

export function FileList({ files, rights, pdfBase, onSave, onPrint }: Props) {
  const [looking, setLooking] = useState<number | undefined>();
  const [busy, setBusy] = useState<number | undefined>();
  const [refused, setRefused] = useState<number | undefined>();
  const attempt = async (index: number, task: () => Promise<unknown>): Promise<void> => {
    setBusy(index);
    setRefused(undefined);
    await task().catch(() => setRefused(index));
    setBusy(undefined);
  };
  return (
    <Panel>
      {files.map((file, index) => {
        const kind = kindOf(file);
        const shown = kind !== 'other';
        const open = looking === index;
        return (
          <Line key={file.name} last={index === files.length - 1} style={styles.line}>
            <View style={styles.row}>
              <LockShape shape="sheet" state="filled" />
              <View style={styles.words}>
                <Text kind="strong" style={styles.name}>
                  {file.name}
                </Text>
                <Text kind="small" tone="soft">
                  {sizeInWords(file.bytes.length)}
                </Text>
              </View>
              <View style={styles.actions}>
                {shown ? (
                  <Button
                    label={open ? words.hide : words.look}
                    describe={`${open ? words.hide : words.look} ${file.name}`}
                    expanded={open}
                    onPress={() => setLooking(open ? undefined : index)}
                  />
                ) : null}
                {rights.print && kind === 'pdf' ? (
                  <Button
                    label={words.print}
                    describe={`${words.print} ${file.name}`}
                    busy={busy === index}
                    onPress={() => void attempt(index, () => onPrint(file))}
                  />
                ) : null}
                {rights.save ? (
                  <Button
                    label={words.save}
                    describe={`${words.save} ${file.name}`}
                    onPress={() =>
                      void attempt(index, async () => {
                        await onSave();
                        save(file);
                      })
                    }
                  />
                ) : null}
              </View>
            </View>
            {refused === index ? <Text kind="small" tone="brick">{`■ ${words.refused}`}</Text> : null}
            {shown ? null : (
              <Text kind="small" tone="soft">
                {rights.save ? words.cannotShow : words.cannotShowNorSave}
              </Text>
            )}
            {open ? <FileView file={file} pdfBase={pdfBase} selectable={rights.copy} /> : null}
          </Line>
        );
      })}
    </Panel>
  );
}

const styles = StyleSheet.create({
  line: { gap: space.m },
  row: { flexDirection: 'row', gap: space.m, alignItems: 'center', flexWrap: 'wrap' },
  words: { flexGrow: 1, flexShrink: 1, flexBasis: 120 },
  name: { overflowWrap: 'anywhere' } as object,
  actions: { flexDirection: 'row', gap: space.s, flexWrap: 'wrap' },
});
