/**
 * Files in the page: pictures and PDFs as pixels on a canvas, text as text. Nothing of a file ever becomes part of the
 * page.
 */
import { type MessageFile } from '@under-lock/core/message/content';
import { placesOf } from '@under-lock/core/search/fold';
import { colour, Loading, Prose, space, Text, type as fonts } from '@under-lock/ui';
import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { words } from '../words/words';
import { kindOf } from './file-kind';
import { PdfView } from './PdfView';
import { type FileFind, MOST_FOUND } from './useFound';

const MAX_TEXT = 200_000;
/** Larger than any screen shows; a bitmap's memory is four bytes a pixel. */
const MAX_SIDE = 2400;

function PictureView({ file, zoom }: { file: MessageFile; zoom: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [state, setState] = useState<'loading' | 'shown' | 'damaged'>('loading');
  useEffect(() => {
    let live = true;
    createImageBitmap(new Blob([file.bytes]))
      .then((picture) => {
        const target = canvas.current;
        if (!live || target === null) return;
        const scale = Math.min(1, MAX_SIDE / Math.max(picture.width, picture.height));
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
        style={{
          // Its own size, or as wide as there is room; larger, all of the room.
          maxWidth: '100%',
          width: zoom === 1 ? undefined : '100%',
          marginInline: 'auto',
          display: state === 'shown' ? 'block' : 'none',
        }}
      />
    </View>
  );
}

function Marked({ text, current }: { text: string; current: boolean }) {
  const element = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (current) element.current?.scrollIntoView({ block: 'center', inline: 'nearest' });
  }, [current]);
  return (
    <span
      ref={element}
      data-found={current ? 'current' : ''}
      style={{ background: current ? colour.foundNow : colour.found, color: colour.foundEdge }}
    >
      {text}
    </span>
  );
}

interface TextViewProps {
  file: MessageFile;
  selectable: boolean;
  zoom: number;
  find?: FileFind | undefined;
}

function TextView({ file, selectable, zoom, find }: TextViewProps) {
  const text = useMemo(() => new TextDecoder('utf-8').decode(file.bytes.subarray(0, MAX_TEXT)), [file]);
  const phrase = find?.phrase ?? '';
  const places = useMemo(() => placesOf(text, phrase, MOST_FOUND), [text, phrase]);
  const onFinding = find?.onFinding;
  useEffect(
    () => onFinding?.({ found: places.map(() => ({ page: 1, boxes: [] })), isReading: false }),
    [places, onFinding],
  );
  return (
    <View style={styles.text}>
      <Prose
        kind="mono"
        style={[
          { fontSize: fonts.mono.fontSize * zoom, lineHeight: fonts.mono.lineHeight * zoom },
          selectable ? undefined : styles.fixed,
        ]}
      >
        {places.map(({ from, to }, index) => [
          text.slice(places[index - 1]?.to ?? 0, from),
          <Marked key={from} text={text.slice(from, to)} current={index === find?.current} />,
        ])}
        {text.slice(places.at(-1)?.to ?? 0)}
      </Prose>
      {file.bytes.length > MAX_TEXT ? <Text kind="small" tone="amber">{`▲ ${words.longText}`}</Text> : null}
    </View>
  );
}

interface Props {
  file: MessageFile;
  pdfBase: string;
  /** Its words may be copied. */
  selectable: boolean;
  /** How much wider than usual the room is that it is shown in. */
  zoom?: number;
  find?: FileFind | undefined;
}

export function FileView({ file, pdfBase, selectable, zoom = 1, find }: Props) {
  switch (kindOf(file)) {
    case 'picture':
      return <PictureView file={file} zoom={zoom} />;
    case 'pdf':
      return <PdfView file={file} base={pdfBase} readable={selectable} zoom={zoom} find={find} />;
    case 'text':
      return <TextView file={file} selectable={selectable} zoom={zoom} find={find} />;
    case 'other':
      return null;
  }
}

const styles = StyleSheet.create({
  text: { gap: space.s },
  fixed: { userSelect: 'none' },
});
