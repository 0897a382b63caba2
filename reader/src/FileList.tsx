import { type MessageFile } from '@under-lock/core/message/content';
import { sizeInWords } from '@under-lock/core/when';
import { Button, Line, Panel, space, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { FileView, kindOf } from './FileView';
import { words } from './words/words';

function save(file: MessageFile): void {
  // Never as its own type: a saved page must not run on our origin.
  const url = URL.createObjectURL(new Blob([file.bytes], { type: 'application/octet-stream' }));
  const link = Object.assign(document.createElement('a'), { href: url, download: file.name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

export function FileList({ files, maySave, pdfBase }: { files: MessageFile[]; maySave: boolean; pdfBase: string }) {
  const [looking, setLooking] = useState<number | undefined>();
  return (
    <Panel>
      {files.map((file, index) => {
        const shown = kindOf(file) !== 'other';
        const open = looking === index;
        return (
          <Line key={file.name} last={index === files.length - 1} style={styles.line}>
            <View style={styles.row}>
              <LockShape shape="sheet" state="filled" />
              <View style={styles.words}>
                <Text kind="strong" style={styles.name}>{file.name}</Text>
                <Text kind="small" tone="soft">{sizeInWords(file.bytes.length)}</Text>
              </View>
              <View style={styles.actions}>
                {shown ? <Button label={open ? words.hide : words.look} describe={`${open ? words.hide : words.look} ${file.name}`} expanded={open} onPress={() => setLooking(open ? undefined : index)} /> : null}
                {maySave ? <Button label={words.save} describe={`${words.save} ${file.name}`} onPress={() => save(file)} /> : null}
              </View>
            </View>
            {shown ? null : <Text kind="small" tone="soft">{maySave ? words.cannotShow : words.cannotShowNorSave}</Text>}
            {open ? <FileView file={file} pdfBase={pdfBase} /> : null}
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
  actions: { flexDirection: 'row', gap: space.s },
});
