/** What is found in a PDF while its pages are read one after the other. */
import { type PDFPageProxy } from 'pdfjs-dist';
import { useEffect, useMemo, useState } from 'react';
import { type Box, foundOn, type PageText, pageText, type TextItem } from './page-text';
import { MAX_PAGES, type OpenedPdf } from './pdf';

export const MOST_FOUND = 500;

export interface Found {
  /** From 1. */
  page: number;
  boxes: Box[];
}

export interface Finding {
  found: Found[];
  isReading: boolean;
}
const NOTHING: Finding = { found: [], isReading: false };

export async function textOf(page: PDFPageProxy): Promise<PageText> {
  const { items } = await page.getTextContent();
  const { width, height, transform } = page.getViewport({ scale: 1 });
  return pageText(
    items.filter((item): item is typeof item & TextItem => 'str' in item),
    { width, height, transform },
  );
}

/** Each page's words, read once. */
function textsOf(pdf: OpenedPdf): (page: number) => Promise<PageText | undefined> {
  const read = new Map<number, Promise<PageText | undefined>>();
  return (number) => {
    const known = read.get(number);
    if (known !== undefined) return known;
    // A page whose words can't be read has none.
    const reading = pdf.watched(pdf.document.getPage(number).then(textOf)).catch(() => undefined);
    read.set(number, reading);
    return reading;
  };
}

export function useFound(pdf: OpenedPdf | undefined, phrase: string): Finding {
  const textAt = useMemo(() => (pdf === undefined ? undefined : textsOf(pdf)), [pdf]);
  const [finding, setFinding] = useState(NOTHING);
  useEffect(() => {
    setFinding(NOTHING);
    if (pdf === undefined || textAt === undefined || phrase.trim() === '') return undefined;
    let live = true;
    const find = async (): Promise<void> => {
      const found: Found[] = [];
      const pages = Math.min(pdf.document.numPages, MAX_PAGES);
      for (let page = 1; page <= pages && live && found.length < MOST_FOUND; page++) {
        const text = await textAt(page);
        if (text !== undefined)
          for (const boxes of foundOn(text, phrase, MOST_FOUND - found.length)) found.push({ page, boxes });
        if (live) setFinding({ found: [...found], isReading: page < pages });
      }
      if (live) setFinding({ found, isReading: false });
    };
    void find();
    return () => {
      live = false;
    };
  }, [pdf, textAt, phrase]);
  return finding;
}
