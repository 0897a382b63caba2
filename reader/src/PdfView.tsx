/** PDFs by pdf.js, page by page on canvases. */
import { type MessageFile } from '@under-lock/core/message/content';
import { border, colour, Loading, space, Text } from '@under-lock/ui';
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { type PDFDocumentProxy } from 'pdfjs-dist';
import { MAX_PAGES, openPdf } from './pdf';
import { words } from './words/words';

function PdfPage({ pdf, number }: { pdf: PDFDocumentProxy; number: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [near, setNear] = useState(number <= 2);
  useEffect(() => {
    const target = canvas.current;
    if (near || target === null) return undefined;
    const observer = new IntersectionObserver(([entry]) => entry?.isIntersecting === true && setNear(true), { rootMargin: '600px' });
    observer.observe(target);
    return () => observer.disconnect();
  }, [near]);
  useEffect(() => {
    const target = canvas.current;
    if (!near || target === null) return undefined;
    let cancel: (() => void) | undefined;
    let live = true;
    void pdf.getPage(number).then((page) => {
      if (!live) return;
      const natural = page.getViewport({ scale: 1 });
      // Twice the column is sharp on a phone; more costs memory and shows nothing.
      const viewport = page.getViewport({ scale: Math.min(3, 1440 / natural.width) });
      target.width = viewport.width;
      target.height = viewport.height;
      const task = page.render({ canvas: target, viewport, annotationMode: 0 });
      cancel = () => task.cancel();
      task.promise.catch(() => undefined); // cancelled when the page is left
    });
    return () => {
      live = false;
      cancel?.();
    };
  }, [near, pdf, number]);
  return <canvas ref={canvas} role="img" aria-label={words.page(number, pdf.numPages)} style={{ width: '100%', minHeight: 200, border: `${border.hair}px solid ${colour.line}`, background: colour.white, boxSizing: 'border-box' }} />;
}

export function PdfView({ file, base, password }: { file: Pick<MessageFile, 'bytes'>; base: string; password?: string | undefined }) {
  const [pdf, setPdf] = useState<PDFDocumentProxy | 'damaged' | undefined>();
  useEffect(() => {
    let live = true;
    let opened: PDFDocumentProxy | undefined;
    openPdf(file.bytes, base, password)
      .then((document) => {
        opened = document;
        if (live) setPdf(document);
      })
      .catch(() => live && setPdf('damaged'));
    return () => {
      live = false;
      void opened?.cleanup();
    };
  }, [file, base, password]);
  if (pdf === undefined) return <Loading what={words.opening} />;
  if (pdf === 'damaged') return <Text tone="brick">{`■ ${words.damaged}`}</Text>;
  return (
    <View style={styles.pages}>
      {Array.from({ length: Math.min(pdf.numPages, MAX_PAGES) }, (_, index) => (
        <PdfPage key={index} pdf={pdf} number={index + 1} />
      ))}
    </View>
  );
}

const styles = StyleSheet.create({ pages: { gap: space.m } });
