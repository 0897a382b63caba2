/** PDFs by pdf.js, page by page on canvases. */
import { type MessageFile } from '@under-lock/core/message/content';
import { border, colour, Loading, space, Text } from '@under-lock/ui';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ThreadStuckError } from '../watched';
import { words } from '../words/words';
import { type Box } from './page-text';
import { MAX_PAGES, type OpenedPdf, openPdf } from './pdf';
import { type FileFind, type Found, type TextAt, textsOf, useFound } from './useFound';

/** Twice the column is sharp on a phone; more costs memory and shows nothing. */
const DRAWN_WIDTH = 1440;
/** What browsers on phones take for one canvas. */
const MAX_PIXELS = 16_000_000;

interface PdfPageProps {
  pdf: OpenedPdf;
  number: number;
  /** Undefined where its words may not be read aloud. */
  textAt: TextAt | undefined;
  zoom: number;
  /** Width by height until its own is known. */
  shape: number;
  found: readonly Found[];
  current: Found | undefined;
  onStuck: () => void;
}

/** True from when it comes near the window. */
function useNear(element: React.RefObject<HTMLElement | null>, from: boolean): boolean {
  const [near, setNear] = useState(from);
  useEffect(() => {
    const target = element.current;
    if (near || target === null) return undefined;
    const observer = new IntersectionObserver(([entry]) => entry?.isIntersecting === true && setNear(true), {
      rootMargin: '600px',
    });
    observer.observe(target);
    return () => observer.disconnect();
  }, [element, near]);
  return near;
}

function PdfPage({ pdf, number, textAt, zoom, shape, found, current, onStuck }: PdfPageProps) {
  const [text, setText] = useState<string | undefined>();
  const [own, setOwn] = useState<number | undefined>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const near = useNear(canvas, number <= 2);
  useEffect(() => {
    const target = canvas.current;
    if (!near || target === null) return undefined;
    let cancel: (() => void) | undefined;
    let live = true;
    const draw = async (): Promise<void> => {
      const page = await pdf.watched(pdf.document.getPage(number));
      if (!live) return;
      // A page with broken words is a picture all the same.
      void textAt?.(number).then((read) => live && setText(read?.text));
      const natural = page.getViewport({ scale: 1 });
      setOwn(natural.width / natural.height);
      const scale = Math.min(
        3 * zoom,
        (DRAWN_WIDTH * zoom) / natural.width,
        Math.sqrt(MAX_PIXELS / (natural.width * natural.height)),
      );
      const viewport = page.getViewport({ scale });
      // Out of sight first: what is there stays until the new picture is done.
      const next = Object.assign(document.createElement('canvas'), { width: viewport.width, height: viewport.height });
      const task = page.render({ canvas: next, viewport, annotationMode: 0 });
      cancel = () => task.cancel();
      await pdf.watched(task.promise);
      if (!live) return;
      Object.assign(target, { width: next.width, height: next.height });
      target.getContext('2d')?.drawImage(next, 0, 0);
    };
    // Anything else is a page that can't be drawn, or one that was left.
    draw().catch((error: unknown) => live && error instanceof ThreadStuckError && onStuck());
    return () => {
      live = false;
      cancel?.();
    };
  }, [near, pdf, number, textAt, zoom, onStuck]);
  const spoken = textAt === undefined ? words.pageNotSpoken : text?.trim() === '' ? words.pageWithoutText : text;
  return (
    <View>
      <canvas
        ref={canvas}
        role="img"
        aria-label={words.page(number, pdf.document.numPages)}
        style={{
          width: '100%',
          aspectRatio: own ?? shape,
          border: `${border.hair}px solid ${colour.line}`,
          background: colour.white,
          boxSizing: 'border-box',
        }}
      />
      {found.map((one, index) => (
        <FoundMark key={index} boxes={one.boxes} current={one === current} />
      ))}
      {spoken === undefined ? null : (
        <View style={styles.spoken}>
          <Text>{spoken}</Text>
        </View>
      )}
    </View>
  );
}

const part = (of: number): string => `${(of * 100).toFixed(3)}%`;

function FoundMark({ boxes, current }: { boxes: readonly Box[]; current: boolean }) {
  const first = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (current) first.current?.scrollIntoView({ block: 'center', inline: 'center' });
  }, [current]);
  return boxes.map(({ left, top, width, height }, index) => (
    <div
      key={index}
      ref={index === 0 ? first : undefined}
      aria-hidden
      data-found={current ? 'current' : ''}
      style={{
        position: 'absolute',
        left: part(left),
        top: part(top),
        width: part(width),
        height: part(height),
        background: current ? colour.foundNow : colour.found,
        mixBlendMode: 'multiply',
        outline: current ? `${border.strong}px solid ${colour.foundEdge}` : undefined,
      }}
    />
  ));
}

interface PdfViewProps {
  file: Pick<MessageFile, 'bytes'>;
  base: string;
  password?: string | undefined;
  /** Its words may be copied, so they may be read aloud and searched, too. */
  readable: boolean;
  /** How much wider than usual the room is that it is shown in. */
  zoom?: number;
  find?: FileFind | undefined;
}

/** Of its first page; a sheet of A4 where there is none. */
const shapeOf = async (pdf: OpenedPdf): Promise<number> => {
  const { width, height } = (await pdf.watched(pdf.document.getPage(1))).getViewport({ scale: 1 });
  return width / height;
};
const A4 = 210 / 297;

type Opening = { pdf: OpenedPdf; shape: number } | 'damaged' | 'stuck' | undefined;

function useOpened({ file, base, password }: PdfViewProps): [Opening, () => void] {
  const [opening, setOpening] = useState<Opening>();
  useEffect(() => {
    let live = true;
    let opened: OpenedPdf | undefined;
    const open = async (): Promise<void> => {
      const pdf = await openPdf(file.bytes, base, password);
      if (!live) return pdf.end();
      opened = pdf;
      const shape = await shapeOf(pdf).catch(() => A4);
      if (live) setOpening({ pdf, shape });
    };
    open().catch((error: unknown) => live && setOpening(error instanceof ThreadStuckError ? 'stuck' : 'damaged'));
    return () => {
      live = false;
      opened?.end();
    };
  }, [file, base, password]);
  return [opening, useCallback(() => setOpening('stuck'), [])];
}

/** Pages as pixels, and their words for who listens. */
export function PdfView(props: PdfViewProps) {
  const { readable, zoom = 1, find } = props;
  const [opening, stuck] = useOpened(props);
  const pdf = typeof opening === 'object' ? opening.pdf : undefined;
  const pageCount = Math.min(pdf?.document.numPages ?? 0, MAX_PAGES);
  const textAt = useMemo(() => (readable && pdf !== undefined ? textsOf(pdf) : undefined), [readable, pdf]);
  const finding = useFound(pageCount, textAt, find?.phrase ?? '');
  const onFinding = find?.onFinding;
  useEffect(() => onFinding?.(finding), [finding, onFinding]);
  const byPage = useMemo(() => {
    const pages = new Map<number, Found[]>();
    for (const one of finding.found) pages.set(one.page, [...(pages.get(one.page) ?? []), one]);
    return pages;
  }, [finding]);
  if (opening === undefined) return <Loading what={words.opening} />;
  if (opening === 'stuck') return <Text tone="brick">{`■ ${words.tookTooLong}`}</Text>;
  if (opening === 'damaged') return <Text tone="brick">{`■ ${words.damaged}`}</Text>;
  return (
    <View style={styles.pages}>
      {Array.from({ length: pageCount }, (_, index) => (
        <PdfPage
          key={index}
          pdf={opening.pdf}
          number={index + 1}
          textAt={textAt}
          zoom={zoom}
          shape={opening.shape}
          found={byPage.get(index + 1) ?? NONE}
          current={find === undefined ? undefined : finding.found[find.current]}
          onStuck={stuck}
        />
      ))}
    </View>
  );
}

const NONE: readonly Found[] = [];

const styles = StyleSheet.create({
  pages: { gap: space.m },
  // For screen readers only.
  spoken: {
    position: 'absolute',
    width: 1,
    height: 1,
    overflow: 'hidden',
    clipPath: 'inset(50%)',
    userSelect: 'none',
  } as object,
});
