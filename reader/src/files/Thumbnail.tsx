/** The first page of a file, small: one after the other, and only of what comes near the window. */
import { type MessageFile } from '@under-lock/core/message/content';
import { border, colour, radius } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { kindOf } from './file-kind';
import { openPdf } from './pdf';

const WIDTH = 48;
const HEIGHT = 64;
/** Sharp where a point is two pixels. */
const SHARP = 2;
const MAX_LETTERS = 600;

async function drawPicture({ bytes }: MessageFile, canvas: HTMLCanvasElement): Promise<void> {
  const picture = await createImageBitmap(new Blob([bytes]));
  const scale = Math.max(canvas.width / picture.width, canvas.height / picture.height);
  const [width, height] = [picture.width * scale, picture.height * scale];
  canvas.getContext('2d')?.drawImage(picture, (canvas.width - width) / 2, (canvas.height - height) / 2, width, height);
  picture.close();
}

async function drawPdf({ bytes }: MessageFile, base: string, canvas: HTMLCanvasElement): Promise<void> {
  const pdf = await openPdf(bytes, base);
  try {
    const page = await pdf.watched(pdf.document.getPage(1));
    const viewport = page.getViewport({ scale: canvas.width / page.getViewport({ scale: 1 }).width });
    await pdf.watched(page.render({ canvas, viewport, annotationMode: 0 }).promise);
  } finally {
    pdf.end();
  }
}

/** One at a time: each PDF is a thread of its own. */
let last: Promise<unknown> = Promise.resolve();
function inTurn(task: () => Promise<void>): Promise<void> {
  const turn = last.then(task);
  last = turn.catch(() => undefined);
  return turn;
}

interface Props {
  file: MessageFile;
  pdfBase: string;
}

function Drawn({ file, pdfBase, kind }: Props & { kind: 'pdf' | 'picture' }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [state, setState] = useState<'waiting' | 'drawn' | 'none'>('waiting');
  useEffect(() => {
    const target = canvas.current;
    if (target === null) return undefined;
    let live = true;
    const draw = async (): Promise<void> => {
      if (live) await (kind === 'pdf' ? drawPdf(file, pdfBase, target) : drawPicture(file, target));
    };
    const observer = new IntersectionObserver(([entry]) => {
      if (entry?.isIntersecting !== true) return;
      observer.disconnect();
      // One that can't be drawn says so when it is looked at.
      inTurn(draw).then(
        () => live && setState('drawn'),
        () => live && setState('none'),
      );
    });
    observer.observe(target);
    return () => {
      live = false;
      observer.disconnect();
    };
  }, [file, pdfBase, kind]);
  return (
    <>
      <canvas
        ref={canvas}
        width={WIDTH * SHARP}
        height={HEIGHT * SHARP}
        style={{ width: WIDTH, height: HEIGHT, opacity: state === 'drawn' ? 1 : 0 }}
      />
      {state === 'drawn' ? null : <Shape />}
    </>
  );
}

const Shape = () => (
  <View style={styles.shape}>
    <LockShape shape="sheet" state="filled" />
  </View>
);

const Letters = ({ file }: { file: MessageFile }) => (
  <div style={letters}>{new TextDecoder('utf-8').decode(file.bytes.subarray(0, MAX_LETTERS))}</div>
);

export function Thumbnail({ file, pdfBase }: Props) {
  const kind = kindOf(file);
  return (
    <View aria-hidden style={[styles.frame, kind !== 'other' && styles.paper]}>
      {kind === 'other' ? (
        <Shape />
      ) : kind === 'text' ? (
        <Letters file={file} />
      ) : (
        <Drawn file={file} pdfBase={pdfBase} kind={kind} />
      )}
    </View>
  );
}

const letters = {
  padding: 4,
  font: '4px/5px sans-serif',
  color: colour.foundEdge,
  whiteSpace: 'pre-wrap',
  overflowWrap: 'anywhere',
  userSelect: 'none',
} as const;

const styles = StyleSheet.create({
  frame: {
    width: WIDTH + 2 * border.hair,
    height: HEIGHT + 2 * border.hair,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.s,
    overflow: 'hidden',
  },
  paper: { backgroundColor: colour.white },
  shape: { position: 'absolute', top: 0, right: 0, bottom: 0, left: 0, alignItems: 'center', justifyContent: 'center' },
});
