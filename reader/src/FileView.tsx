/**
 * Files in the page: pictures and PDFs as pixels on a canvas, text as text. Nothing of a file ever becomes part of the
 * page.
 */
import { type MessageFile } from '@under-lock/core/message/content';
import { Loading, space, Text } from '@under-lock/ui';
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { kindOf } from './file-kind';
import { PdfView } from './PdfView';
import { words } from './words/words';

const MAX_TEXT = 200_000;

function PictureView({ file }: { file: MessageFile }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [state, setState] = useState<'loading' | 'shown' | 'damaged'>('loading');
  useEffect(() => {
    let live = true;
    createImageBitmap(new Blob([file.bytes]))
      .then((picture) => {
        const target = canvas.current;
        if (!live || target === null) return;
        // Larger than any screen shows; a bitmap's memory is four bytes a pixel.
        const scale = Math.min(1, 2400 / Math.max(picture.width, picture.height));
        target.width = Math.round(picture.width * scale);
        target.height = Math.round(picture.height * scale);
        target.getContext('2d')?.drawImage(picture, 0, 0, target.width, target.height);
        picture.close();
        setState('shown');
      })
      .catch(() => live && setState('damaged'));
    return () => {
      live = false;
    };
  }, [file]);
  return (
    <View>
      {state === 'loading' ? <Loading what={words.opening} /> : null}
      {state === 'damaged' ? <Text tone="brick">{`■ ${words.damaged}`}</Text> : null}
      <canvas
        ref={canvas}
        role="img"
        aria-label={words.picture(file.name)}
        style={{ maxWidth: '100%', display: state === 'shown' ? 'block' : 'none' }}
      />
    </View>
  );
}

function TextView({ file, selectable }: { file: MessageFile; selectable: boolean }) {
  const text = new TextDecoder('utf-8').decode(file.bytes.subarray(0, MAX_TEXT));
  return (
    <View style={styles.text}>
      <Text kind="mono" style={[styles.preserved, selectable ? undefined : styles.fixed]}>
        {text}
      </Text>
      {file.bytes.length > MAX_TEXT ? <Text kind="small" tone="amber">{`▲ ${words.longText}`}</Text> : null}
    </View>
  );
}

export function FileView({ file, pdfBase, selectable }: { file: MessageFile; pdfBase: string; selectable: boolean }) {
  switch (kindOf(file)) {
    case 'picture':
      return <PictureView file={file} />;
    case 'pdf':
      return <PdfView file={file} base={pdfBase} readable={selectable} />;
    case 'text':
      return <TextView file={file} selectable={selectable} />;
    case 'other':
      return null;
  }
}

const styles = StyleSheet.create({
  text: { gap: space.s },
  fixed: { userSelect: 'none' },
  preserved: { whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' } as object,
});
