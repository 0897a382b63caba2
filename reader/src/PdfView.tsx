/** PDFs by pdf.js, page by page on canvases. */
import { type MessageFile } from '@under-lock/core/message/content';
import { border, colour, Loading, space, Text } from '@under-lock/ui';
import { useCallback, useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { type PDFPageProxy } from 'pdfjs-dist';
import { MAX_PAGES, type OpenedPdf, openPdf } from './pdf';
import { ThreadStuckError } from './watched';
import { words } from './words/words';

const MAX_PAGE_TEXT = 20_000;

/** The words of a page in the order they stand in the file, by the line (ISO 32000-2, §9.10). */
async function wordsOf(page: PDFPageProxy): Promise<string> {
  const { items } = await page.getTextContent();
  return items
    .map((item) => ('str' in item ? `${item.str}${item.hasEOL ? '\n' : ''}` : ''))
    .join('')
    .slice(0, MAX_PAGE_TEXT);
}

interface PdfPageProps {
  pdf: OpenedPdf;
  number: number;
  readable: boolean;
  onStuck: () => void;
}

function PdfPage({ pdf, number, readable, onStuck }: PdfPageProps) {
  const [text, setText] = useState<string | undefined>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [near, setNear] = useState(number <= 2);
  useEffect(() => {
    const target = canvas.current;
    if (near || target === null) return undefined;
    const observer = new IntersectionObserver(([entry]) => entry?.isIntersecting === true && setNear(true), {
      rootMargin: '600px',
    });
    observer.observe(target);
    return () => observer.disconnect();
  }, [near]);
  useEffect(() => {
    const target = canvas.current;
    if (!near || target === null) return undefined;
    let cancel: (() => void) | undefined;
    let live = true;
    const draw = async (): Promise<void> => {
      const page = await pdf.watched(pdf.document.getPage(number));
      if (!live) return;
      // A page without words, or with broken ones, is a picture all the same.
      if (readable)
        wordsOf(page).then(
          (found) => live && setText(found),
          () => undefined,
        );
      const natural = page.getViewport({ scale: 1 });
      // Twice the column is sharp on a phone; more costs memory and shows nothing.
      const viewport = page.getViewport({ scale: Math.min(3, 1440 / natural.width) });
      target.width = viewport.width;
      target.height = viewport.height;
      const task = page.render({ canvas: target, viewport, annotationMode: 0 });
      cancel = () => task.cancel();
      await pdf.watched(task.promise);
    };
    // Anything else is a page that can't be drawn, or one that was left.
    draw().catch((error: unknown) => live && error instanceof ThreadStuckError && onStuck());
    return () => {
      live = false;
      cancel?.();
    };
  }, [near, pdf, number, readable, onStuck]);
  const label = words.page(number, pdf.document.numPages);
  const spoken = !readable ? words.pageNotSpoken : text?.trim() === '' ? words.pageWithoutText : text;
  const picture = (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      style={{
        width: '100%',
        minHeight: 200,
        border: `${border.hair}px solid ${colour.line}`,
        background: colour.white,
        boxSizing: 'border-box',
      }}
    />
  );
  return (
    <View>
      {picture}
      {spoken === undefined ? null : (
        <View style={styles.spoken}>
          <Text>{spoken}</Text>
        </View>
      )}
    </View>
  );
}

interface PdfViewProps {
  file: Pick<MessageFile, 'bytes'>;
  base: string;
  password?: string | undefined;
  /** Its words may be copied, so they may be read aloud, too. */
  readable: boolean;
}

/** Pages as pixels, and their words for who listens. */
export function PdfView({ file, base, password, readable }: PdfViewProps) {
  const [pdf, setPdf] = useState<OpenedPdf | 'damaged' | 'stuck' | undefined>();
  useEffect(() => {
    let live = true;
    let opened: OpenedPdf | undefined;
    openPdf(file.bytes, base, password)
      .then((document) => {
        opened = document;
        if (live) setPdf(document);
        else document.end();
      })
      .catch((error: unknown) => live && setPdf(error instanceof ThreadStuckError ? 'stuck' : 'damaged'));
    return () => {
      live = false;
      opened?.end();
    };
  }, [file, base, password]);
  const stuck = useCallback(() => setPdf('stuck'), []);
  if (pdf === undefined) return <Loading what={words.opening} />;
  if (pdf === 'stuck') return <Text tone="brick">{`■ ${words.tookTooLong}`}</Text>;
  if (pdf === 'damaged') return <Text tone="brick">{`■ ${words.damaged}`}</Text>;
  return (
    <View style={styles.pages}>
      {Array.from({ length: Math.min(pdf.document.numPages, MAX_PAGES) }, (_, index) => (
        <PdfPage key={index} pdf={pdf} number={index + 1} readable={readable} onStuck={stuck} />
      ))}
    </View>
  );
}

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
